import { InputNumber, Popover } from 'antd';
import { useMemo, useRef } from 'react';
import { DEFAULT_COLUMNS, poseColumns } from '@kneader/core';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { counted } from '../edits/numbers.ts';

/** One step of the history for each number that is meant, not for each digit of it. */
function setShare(percent: number | null): void {
  if (percent === null) return;
  const { share = DEFAULT_COLUMNS.share } = useBench.getState().session.shot.poseColumns ?? {};
  const within = Math.min(100, Math.max(1, Math.round(percent)));
  if (within !== Math.round(share * 100)) bench.perform('timing.setColumns', { share: within / 100 });
}

/** The rule that finds columns, columns set by hand, and on what retiming acts. */
export function PosesHead() {
  const shot = useBench(shownShot);
  const frame = useBench((state) => state.frame);
  const scope = useBench((state) => state.lane.timeScope);
  const ripples = useBench((state) => state.lane.ripples);
  const columns = useMemo(() => poseColumns(shot), [shot]);
  const typed = useRef<number | null>(null);
  const commit = () => {
    setShare(typed.current);
    typed.current = null;
  };
  const isColumn = columns.frames.includes(frame);
  const share = Math.round(columns.rule.share * 100);
  const byHand = columns.rule.added.length + columns.rule.removed.length;
  return (
    <>
      <div className="switches" role="group" aria-label="Pose columns">
        <Popover
          trigger="click"
          placement="right"
          content={
            <div className="column-rule">
              <p>A frame is a pose column when at least this part of the keyed controls has a key there.</p>
              <InputNumber
                key={share}
                size="small"
                aria-label="Share of controls"
                min={1}
                max={100}
                defaultValue={share}
                suffix="%"
                onStep={setShare}
                onChange={(value) => (typed.current = value)}
                onPressEnter={commit}
                onBlur={commit}
              />
              <p className="soft">
                {byHand === 0
                  ? 'None was set by hand.'
                  : `By hand: ${columns.rule.added.length} added, ${columns.rule.removed.length} taken out.`}
              </p>
            </div>
          }
        >
          <button type="button" className="chip" title="The rule that finds the columns">
            Found by {share} %
          </button>
        </Popover>
        <button
          type="button"
          className="chip"
          title={isColumn ? 'This frame shall be no pose column' : 'Mark this frame as a pose column'}
          onClick={() =>
            bench.perform('timing.setColumns', isColumn ? { remove: [frame] } : { add: [frame] })
          }
        >
          {isColumn ? `No pose at ${frame}` : `Pose at ${frame}`}
        </button>
        <button
          type="button"
          className={`chip${scope === 'selected' ? ' on' : ''}`}
          aria-pressed={scope === 'selected'}
          title="Retime only what is selected; off, everything keeps together"
          onClick={() => bench.setLane({ timeScope: scope === 'selected' ? 'everything' : 'selected' })}
        >
          Only selected
        </button>
        <button
          type="button"
          className={`chip${ripples ? '' : ' on'}`}
          aria-pressed={!ripples}
          title="A pose that is moved slides between its neighbours; off, what is later follows. With Ctrl it is the other of the two"
          onClick={() => bench.setLane({ ripples: !ripples })}
        >
          Slide
        </button>
      </div>
    </>
  );
}

/** How many columns there are. */
export function PosesCount() {
  const shot = useBench(shownShot);
  const columns = useMemo(() => poseColumns(shot), [shot]);
  return (
    <span className="soft layer">{columns.dense ? 'dense' : counted(columns.frames.length, 'column')}</span>
  );
}
