import { ExclamationCircleOutlined } from '../../theme/icons.tsx';
import { Select } from 'antd';
import { useMemo, useRef } from 'react';
import { curveOf, spaceChecks, spansOf, targetName } from '@kneader/core';
import type { Relation, Shot, Span } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { beginDrag, isDragging } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { Lane } from './lane.tsx';
import { frameToX, xToFrame } from './time-axis.ts';

type Switched = Relation & { readonly switch: string };

/** More lanes than this would leave no room for the curves. */
const MOST_LANES = 3;

/** Pixels within which an edge is hit. */
const REACH = 7;
/** Pixels for each control. */
const ROW = 34;

/** The relations of the selected controls of whose targets one holds at a time. */
const switchedRelations = (shot: Shot, nodes: readonly string[]): Switched[] =>
  shot.relations.filter(
    (relation): relation is Switched => relation.switch !== null && nodes.includes(relation.node),
  );

/** What the selected controls follow, as coloured spans: the edge of one is dragged, and the motion stays. */
export function SpacesLane() {
  const shot = useBench(shownShot);
  const nodes = useBench((state) => state.session.selection.nodes);
  const relations = useMemo(() => switchedRelations(shot, nodes).slice(0, MOST_LANES), [shot, nodes]);
  const [first, ...more] = relations;
  if (!first) return null;
  return (
    <Lane
      id="spaces"
      name="Space"
      height={ROW * relations.length}
      aside={<SpaceHead relation={first} />}
      head={more.map((relation) => (
        <span key={relation.id} className="space-head">
          <SpaceHead relation={relation} />
        </span>
      ))}
      track={relations.map((relation) => (
        <SpaceTrack key={relation.id} relation={relation} />
      ))}
    />
  );
}

const SpaceHead = ({ relation }: { readonly relation: Switched }) => (
  <>
    <SwitchHere relation={relation} />
    <SpaceMark relation={relation} />
  </>
);

/** What it follows at the play-head; another is chosen, and it switches here. */
function SwitchHere({ relation }: { readonly relation: Switched }) {
  const frame = useBench((state) => state.frame);
  const shot = useBench((state) => state.session.shot);
  const spans = spansOf(curveOf(shot, null, relation.switch), shot.range);
  const here = spans.findLast(({ start }) => start <= frame) ?? spans[0];
  return (
    <Select
      size="small"
      className="space-here"
      aria-label={`What ${relation.node} follows from here`}
      title={`What ${relation.node} follows; another one switches at the play-head, without a jump`}
      popupMatchSelectWidth={false}
      value={here?.target ?? 0}
      options={relation.targets.map((target, at) => ({ value: at, label: targetName(target) }))}
      onChange={(to: number) =>
        bench.perform('spaces.switch', { relation: relation.id, frame: Math.round(frame), to })
      }
    />
  );
}

/** What is likely to be a mistake; touched, the play-head goes there. */
function SpaceMark({ relation }: { readonly relation: Switched }) {
  const shot = useBench((state) => state.session.shot);
  const marks = useMemo(() => spaceChecks(shot, relation), [shot, relation]);
  if (marks.length === 0) return null;
  const words = marks.map(({ sentence }) => sentence).join(' ');
  return (
    <button
      type="button"
      className="icon layer-mark"
      aria-label={words}
      title={words}
      onClick={() => {
        const frame = marks.find(({ where }) => where.frame !== undefined)?.where.frame;
        if (frame !== undefined) bench.setFrame(frame);
      }}
    >
      <ExclamationCircleOutlined />
    </button>
  );
}

function SpaceTrack({ relation }: { readonly relation: Switched }) {
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const shot = useBench(shownShot);
  const axis = { from, to, width: Math.max(width, 1) };
  const spans = spansOf(curveOf(shot, null, relation.switch), shot.range);
  const edgeNear = (x: number): Span | undefined =>
    spans.slice(1).find(({ start }) => Math.abs(frameToX(axis, start) - x) < REACH);
  const place = (event: React.PointerEvent<HTMLDivElement>) =>
    event.clientX - event.currentTarget.getBoundingClientRect().left;
  return (
    <div
      ref={holder}
      className="space-track"
      style={{ height: ROW }}
      role="img"
      aria-label={`What ${relation.node} follows: ${spans.map(({ start, target }) => `${targetName(relation.targets[target]!)} from ${start}`).join(', ')}`}
      onPointerDown={(event) => {
        const x = place(event);
        const edge = edgeNear(x);
        if (!edge) return;
        const left = event.clientX - x;
        event.currentTarget.setPointerCapture(event.pointerId);
        beginDrag(event, {
          start: () => bench.beginGesture('spaces.moveSwitch'),
          move: (at) =>
            bench.updateGesture({
              relation: relation.id,
              from: edge.start,
              frame: Math.round(xToFrame(axis, at.x - left)),
            }),
          end: () => bench.commitGesture(`Move switch of ${relation.node}`),
          cancel: bench.cancelGesture,
        });
      }}
      onPointerMove={(event) => {
        if (!isDragging()) event.currentTarget.style.cursor = edgeNear(place(event)) ? 'ew-resize' : '';
      }}
    >
      {spans.map(({ start, end, target }) => {
        const left = frameToX(axis, start);
        return (
          <span
            key={start}
            className="space-span"
            title={`${relation.node} follows ${targetName(relation.targets[target]!)}, frames ${start} to ${end}`}
            style={{
              left,
              width: Math.max(frameToX(axis, end + 1) - left - 1, 2),
              background: `color-mix(in srgb, ${PASS_HUES[target % PASS_HUES.length]} 38%, transparent)`,
              borderColor: PASS_HUES[target % PASS_HUES.length],
            }}
          >
            {targetName(relation.targets[target]!)}
          </span>
        );
      })}
    </div>
  );
}
