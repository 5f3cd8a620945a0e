import { useMemo, useRef } from 'react';
import { actsOn } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { counted } from '../edits/numbers.ts';
import { useSize } from '../use-size.ts';
import { CurveSwitches } from './curve-switches.tsx';
import { CurvesLane } from './curves-lane.tsx';
import { PassHead, PassTrack } from './pass-lane.tsx';
import { PosesHead } from './poses-head.tsx';
import { PosesLane } from './poses-lane.tsx';
import { WarpLane } from './warp-lane.tsx';
import { Ruler } from './ruler.tsx';
import { frameToX, xToFrame } from './time-axis.ts';

/** All that has to do with time, on one axis: ruler, poses, passes, curves. Actions are dropped here. */
export function Lanes() {
  const tracks = useRef<HTMLDivElement>(null);
  const { width } = useSize(tracks);
  const passes = useBench((state) => shownShot(state).passes);
  const dragged = useBench((state) => state.dragged);

  const frameAt = (event: React.DragEvent) => {
    const { from, to } = useBench.getState();
    const place = tracks.current!.getBoundingClientRect();
    return Math.round(xToFrame({ from, to, width: place.width }, event.clientX - place.left));
  };
  return (
    <section
      className="lanes"
      aria-label="Lanes"
      onDragOver={(event) => {
        if (!dragged) return;
        event.preventDefault();
        const frame = frameAt(event);
        if (frame !== dragged.frame) bench.setDragged({ ...dragged, frame });
      }}
      onDragLeave={(event) => {
        if (dragged && !event.currentTarget.contains(event.relatedTarget as Element | null))
          bench.setDragged({ ...dragged, frame: null });
      }}
      onDrop={(event) => {
        if (!dragged) return;
        event.preventDefault();
        bench.openEdit('actions.apply');
        bench.perform('actions.apply', {
          action: dragged.item.action,
          frame: frameAt(event),
          carryOn: dragged.carryOn,
        });
        bench.setDragged(null);
      }}
    >
      <div className="lane" style={{ height: 26 }}>
        <div className="lane-head">
          <ChosenCount />
        </div>
        <div className="lane-track" ref={tracks}>
          <Ruler />
        </div>
      </div>
      <div className="lane" style={{ height: 104 }}>
        <div className="lane-head lane-head-column">
          <PosesHead />
        </div>
        <div className="lane-track">
          <PosesLane />
        </div>
      </div>
      {passes.length > 0 && (
        <div className="passes">
          {[...passes].reverse().map((pass) => (
            <div className="lane" key={pass.id} style={{ height: 28 }}>
              <PassHead pass={pass} />
              <div className="lane-track">
                <PassTrack pass={pass} />
              </div>
            </div>
          ))}
        </div>
      )}
      <WarpLane />
      <div className="lane lane-curves">
        <div className="lane-head">
          <span className="lane-title">
            Curves <LayerName />
          </span>
          <CurveSwitches />
        </div>
        <div className="lane-track">
          <CurvesLane />
        </div>
      </div>
      <Notice />
      <Overlay width={width} />
    </section>
  );
}

/** Why a keystroke or a drag did nothing; the open edit says it in its own place. */
function Notice() {
  const sentence = useBench(({ report, openEdit }) =>
    report?.report.status === 'refused' && report.edit !== openEdit
      ? report.report.findings[0]?.sentence
      : undefined,
  );
  return sentence ? (
    <p className="lanes-notice" role="alert">
      {sentence}
    </p>
  ) : null;
}

/** How much is chosen, always in sight. */
function ChosenCount() {
  const shot = useBench((state) => state.session.shot);
  const selection = useBench((state) => state.session.selection);
  const { keys, channels, controls, chosen } = useMemo(() => actsOn(shot, selection), [shot, selection]);
  if (controls === 0) return <span className="soft">Nothing chosen</span>;
  return (
    <span className="chosen-count" role="status" aria-label="Chosen">
      <b className={chosen ? undefined : 'soft'}>{counted(keys, 'key')}</b> · {counted(channels, 'channel')} ·{' '}
      {counted(controls, 'control')}
    </span>
  );
}

/** On which layer the curves are. */
function LayerName() {
  const id = useBench((state) => state.session.selection.pass);
  const pass = useBench((state) => state.session.shot.passes.find((known) => known.id === id));
  if (!pass) return <span className="soft layer">on the base</span>;
  return (
    <span className="layer" style={{ color: PASS_HUES[pass.colour] }}>
      <span className="soft">on </span>
      {pass.name}
    </span>
  );
}

/** The play-head, the chosen range and the range that a dragged action will cover, over all lanes. */
function Overlay({ width }: { readonly width: number }) {
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const frame = useBench((state) => state.frame);
  const range = useBench((state) => state.session.selection.range);
  const dragged = useBench((state) => state.dragged);
  const axis = { from, to, width: Math.max(width, 1) };
  const span = (start: number, end: number) => ({
    left: frameToX(axis, start),
    width: Math.max(2, frameToX(axis, end) - frameToX(axis, start)),
  });
  const landing =
    dragged !== null && dragged.frame !== null
      ? { start: dragged.frame, end: dragged.frame + dragged.item.action.length }
      : null;
  return (
    <div className="lanes-overlay">
      {range && <span className="span-range" style={span(range.start, range.end)} />}
      {landing && (
        <span className="span-landing" style={span(landing.start, landing.end)}>
          {dragged!.item.action.name}: {landing.start}–{Math.round(landing.end)}
        </span>
      )}
      <span className="play-head" style={{ transform: `translateX(${frameToX(axis, frame)}px)` }} />
    </div>
  );
}
