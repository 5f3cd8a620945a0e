import { closestCenter, DndContext } from '@dnd-kit/core';
import type { DragEndEvent } from '@dnd-kit/core';
import { SortableContext, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { Fragment, useRef } from 'react';
import type { ReactNode } from 'react';
import { isFilter, isKeyed, markersOf, meansWeight, onLayer } from '@kneader/core';
import { PASS_HUES } from '../../theme/palette.ts';
import { bench, shownShot, useBench } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import type { Said } from '../said/said.ts';
import { Spoken, useSaid } from '../said/said-line.tsx';
import { useSize } from '../use-size.ts';
import { ContactsLane } from './contacts-lane.tsx';
import { CurveSwitches } from './curve-switches.tsx';
import { CurvesLane } from './curves-lane.tsx';
import { laneLayout, orderedLanes, useLaneLayout } from './lane-layout.ts';
import type { LaneId } from './lane-layout.ts';
import { Lane } from './lane.tsx';
import { dialledEdit } from './layer-edits.ts';
import { LayerStack } from './layer-stack.tsx';
import { NotesLane } from '../notes/notes-lane.tsx';
import { MarkerStrip } from './marker-strip.tsx';
import { PosesCount, PosesHead } from './poses-head.tsx';
import { PosesLane } from './poses-lane.tsx';
import { SpacesLane } from './spaces-lane.tsx';
import { WarpLane } from './warp-lane.tsx';
import { LaneSwitch } from './lane-switch.tsx';
import { LimitsLane } from './limits-lane.tsx';
import { LeanLane } from './lean-lane.tsx';
import { RoughnessLane } from './roughness-lane.tsx';
import { Ruler } from './ruler.tsx';
import { VariantsBar } from './variants-bar.tsx';
import { useCarrySensors } from './use-carry-sensors.ts';
import { frameToX, xToFrame } from './time-axis.ts';

/** The lanes of the stack by their names in the layout. */
const LANES: Readonly<Record<LaneId, () => ReactNode>> = {
  poses: () => <PosesStack />,
  passes: () => <PassesStack />,
  spaces: () => <SpacesLane />,
  contacts: () => <ContactsLane />,
  limits: () => <LimitsLane />,
  warp: () => <WarpLane />,
  roughness: () => <RoughnessLane />,
  lean: () => <LeanLane />,
  curves: () => (
    <Lane id="curves" name="Curves" aside={<LayerName />} head={<CurveSwitches />} track={<CurvesLane />} />
  ),
};

/** All that has to do with time, on one axis: ruler, poses, passes, curves. Actions are dropped here. */
export function Lanes() {
  const tracks = useRef<HTMLDivElement>(null);
  const { width } = useSize(tracks);
  const order = orderedLanes(useLaneLayout((layout) => layout.order));
  const sensors = useCarrySensors();
  const drop = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) laneLayout.move(active.id as LaneId, over.id as LaneId);
  };
  const dragged = useBench((state) => state.dragged);
  const said = useSaid();

  const frameAt = (event: React.DragEvent) => {
    const { from, to } = useBench.getState();
    const place = tracks.current!.getBoundingClientRect();
    return Math.round(xToFrame({ from, to, width: place.width }, event.clientX - place.left));
  };
  return (
    <section
      className="lanes"
      aria-label="Lanes"
      // Where the focus goes when a field in it is left.
      data-home
      tabIndex={-1}
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
        const frame = frameAt(event);
        bench.openEdit('actions.apply');
        bench.perform(dragged.edit, { action: dragged.item.action, frame, ...dragged.options });
        bench.setDragged(null);
      }}
    >
      <div className="lane" style={{ height: 26 }}>
        <div className="lane-head lane-frames">
          Frames{' '}
          <LaneSwitch
            id="roughness"
            name="Roughness"
            title="How rough the motion is along time, and where it is worst"
          />
          <LaneSwitch
            id="lean"
            name="Lean"
            title="How far the centre of mass leans out of what the body stands on"
          />
        </div>
        <div className="lane-track" ref={tracks}>
          <Ruler />
        </div>
      </div>
      <MarkersLane />
      <NotesLane />
      <DndContext sensors={sensors} collisionDetection={closestCenter} onDragEnd={drop}>
        <SortableContext items={order} strategy={verticalListSortingStrategy}>
          {order.map((id) => (
            <Fragment key={id}>{LANES[id]()}</Fragment>
          ))}
        </SortableContext>
      </DndContext>
      <Notice />
      <Overlay width={width} said={said} />
      <Spoken said={said} />
    </section>
  );
}

/** Takes no room where there is none. */
function MarkersLane() {
  const isEmpty = useBench((state) => markersOf(shownShot(state)).length === 0);
  return isEmpty ? null : (
    <div className="lane" style={{ height: 26 }}>
      <div className="lane-head">Markers</div>
      <div className="lane-track">
        <MarkerStrip />
      </div>
    </div>
  );
}

function PosesStack() {
  return (
    <Lane
      id="poses"
      name="Poses"
      aside={<PosesCount />}
      height={96}
      head={<PosesHead />}
      track={<PosesLane />}
    />
  );
}

/** The stack as it is, or as it is tried: a layer that is looked at without is no other layer. */
const stackShown = (state: BenchState) => shownShot({ ...state, peeked: null }).layers;

/** Passes and filters, bottom to top as they are worked out, and their variants; folded to one line where there are many. */
function PassesStack() {
  const passes = useBench(stackShown);
  const folded = useLaneLayout((layout) => layout.folded.includes('passes'));
  if (passes.length === 0) return null;
  if (folded) return <Lane id="passes" name="Stack" height={28} track={<PassChips />} />;
  return (
    <div className="passes">
      <Lane id="passes" name="Stack" height={28} track={<VariantsBar />} />
      <LayerStack passes={passes} />
    </div>
  );
}

/** The passes as one line of chips: touched, one is worked on. */
function PassChips() {
  const layers = useBench(stackShown);
  const passes = layers.map((layer) => ({ ...layer, keyed: isKeyed(layer), turns: dialledEdit(layer) }));
  const chosen = useBench((state) => state.session.selection.layer);
  return (
    <div className="pass-chips">
      {passes.map(({ id, name, colour, muted, keyed, turns }) => (
        <button
          key={id}
          type="button"
          className={`chip${id === chosen ? ' on' : ''}`}
          style={{ borderColor: PASS_HUES[colour] }}
          aria-pressed={id === chosen}
          onClick={() => {
            const { selection } = useBench.getState().session;
            if (keyed) bench.select(onLayer(selection, id === chosen ? null : id));
            else {
              bench.chooseFilter(id);
              bench.openEdit(turns);
            }
          }}
        >
          {muted ? `${name} (muted)` : name}
        </button>
      ))}
    </div>
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

/** On which layer the curves are. */
function LayerName() {
  const id = useBench((state) => state.session.selection.layer);
  const weight = useBench((state) => meansWeight(state.session.selection));
  const pass = useBench((state) => state.session.shot.layers.find((known) => known.id === id));
  if (!pass) return <span className="soft layer">on the base</span>;
  return (
    <span className="layer">
      <span className="soft">{weight ? `the ${isFilter(pass) ? 'strength' : 'weight'} of ` : 'on '}</span>
      <span className="layer-dot" style={{ background: PASS_HUES[pass.colour] }} /> {pass.name}
    </span>
  );
}

/** The play-head, the chosen range and the range that a dragged action will cover, over all lanes. */
function Overlay({ width, said }: { readonly width: number; readonly said: Said | null }) {
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const frame = useBench((state) => state.frame);
  const range = useBench((state) => state.session.selection.range);
  const dragged = useBench((state) => state.dragged);
  const markers = useBench((state) => markersOf(shownShot(state)));
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
      {markers
        .filter((one) => one.frame >= from && one.frame <= to)
        .map(({ id, frame: at, colour }) => (
          <span
            key={id}
            className="marker-line"
            style={{ transform: `translateX(${frameToX(axis, at)}px)`, borderColor: PASS_HUES[colour] }}
          />
        ))}
      {range && <span className="span-range" style={span(range.start, range.end)} />}
      {landing && (
        <span className="span-landing" style={span(landing.start, landing.end)}>
          {dragged!.item.action.name}: {landing.start}–{Math.round(landing.end)}
        </span>
      )}
      <span className="play-head" style={{ transform: `translateX(${frameToX(axis, frame)}px)` }}>
        {said && !said.isRefusal && (
          // Toward the side where there is room.
          <span className={`said${frame > (from + to) / 2 ? ' left' : ''}`} aria-hidden>
            {said.sentence}
          </span>
        )}
      </span>
    </div>
  );
}
