/**
 * The state of the bench: the session, what is being tried on top of it, and how it is looked at. The shot itself changes
 * only through the core's session; what is here beside it is play-head, previews and views.
 */
import { create } from 'zustand';
import {
  beginGesture,
  capturePose,
  commit,
  commitGesture,
  goTo,
  openSession,
  perform,
  redo,
  select,
  undo,
  updateGesture,
  variantsOf,
  withVariant,
} from '@kneader/core';
import type {
  ClipJson,
  FrameRange,
  Gesture,
  KeyTangents,
  Outcome,
  Report,
  Selection,
  Session,
  Shot,
  StoredPose,
  WarpPoint,
} from '@kneader/core';
import { PLAIN_VIEW } from './lanes/lane-view.ts';
import type { LaneView } from './lanes/lane-view.ts';
import type { PantryItem } from '../store/pantry-record.ts';
import type { BenchView } from '../store/shot-record.ts';

export type Comparison = 'after' | 'before' | 'outline';

/** An edit that is tried but not applied. */
export interface Preview {
  readonly edit: string;
  readonly options: unknown;
  readonly on: Shot;
  readonly selection: Selection;
  readonly outcome: Outcome;
  /** False while a part of it is still being worked out: it can be looked at, and not yet be applied. */
  readonly whole: boolean;
}

export interface BenchState {
  readonly id: string;
  readonly session: Session;
  readonly frame: number;
  readonly playing: boolean;
  /** Where a hand last put the play-head: what keystrokes mean while it plays. */
  readonly held: number;
  /** Whether only the marked range is played. */
  readonly looped: boolean;
  /** The shot that the play-head goes through, at its rate, where another is looked at; null is the shot itself. */
  readonly lookedAt: Shot | null;
  readonly speed: number;
  /** Frames that the lanes show. */
  readonly from: number;
  readonly to: number;
  readonly lane: LaneView;
  readonly comparison: Comparison;
  readonly openEdit: string | null;
  /** Pictures in the last second of playing, where they are fewer than the shot has; null else. */
  readonly reached: number | null;
  /** How often an edit was opened with options of its own: its panel begins anew. */
  readonly opened: number;
  readonly preview: Preview | null;
  /** Asked to be applied as soon as it was tried: done already for whoever asked, though it is still being worked out. */
  readonly asked: { readonly edit: string; readonly options: unknown } | null;
  readonly gesture: Gesture | null;
  /** The report of the last thing done, shown where it was done. */
  readonly report: { readonly edit: string; readonly report: Report } | null;
  readonly pose: StoredPose | null;
  /** The filter whose panel is meant. */
  readonly filter: string | null;
  /** The layer that is looked at without, while its eye is held. */
  readonly peeked: string | null;
  /** Variants that stand side by side on the stage, up to four, by id; fewer than two is none. */
  readonly beside: readonly string[];
  /** The variant that lies over the figure as an outline. */
  readonly outlined: string | null;
  /** The keys that were copied last. */
  readonly clip: ClipJson | null;
  /** The tangents that were copied last. */
  readonly tangents: KeyTangents | null;
  /** Old and new frames of the warp that is being made; null is none. */
  readonly warp: readonly WarpPoint[] | null;
  /** How much staying close counts along time, of the refinement that is being made: frames, and a weight for each; null is none. */
  readonly closeness: Closeness | null;
  /** Where the flight that is being made takes off, lands and rises to; null is none. */
  readonly flight: FlightWish | null;
  /** The controls whose paths are drawn on the stage. */
  readonly arcs: readonly string[];
  /** Whether all keys of dense paths are shown, not only those around the play-head. */
  readonly allBeads: boolean;
  /** Frames before and after that are drawn on the stage; 0 is none. */
  readonly ghosts: number;
  /** The action that is being dragged onto the lanes. */
  readonly dragged: {
    readonly item: PantryItem;
    /** What a drop does with it, and the options that this takes beside the action and the frame. */
    readonly edit: string;
    readonly options: object;
    readonly frame: number | null;
  } | null;
}

export interface Closeness {
  readonly frames: readonly number[];
  readonly weights: readonly number[];
}

/** What of a flight is dragged on the stage; null is as it is. */
export interface FlightWish {
  /** The edit that makes it. */
  readonly edit: 'motion.flight' | 'motion.aim';
  readonly from: readonly [number, number, number] | null;
  readonly to: readonly [number, number, number] | null;
  readonly top: number | null;
  /** The other options, as the panel has them. */
  readonly options: Readonly<Record<string, unknown>>;
}

const EMPTY: Shot = {
  name: '',
  rate: { numerator: 24, denominator: 1 },
  range: { start: 0, end: 1 },
  characters: [],
  nodes: [],
  relations: [],
  curves: [],
  layers: [],
  locked: [],
  extras: {},
};

export const useBench = create<BenchState>()(() => ({
  id: '',
  session: openSession(EMPTY),
  frame: 0,
  playing: false,
  held: 0,
  looped: false,
  lookedAt: null,
  speed: 1,
  from: 0,
  to: 1,
  lane: PLAIN_VIEW,
  comparison: 'after',
  openEdit: null,
  opened: 0,
  reached: null,
  preview: null,
  asked: null,
  gesture: null,
  report: null,
  pose: null,
  filter: null,
  peeked: null,
  beside: [],
  outlined: null,
  clip: null,
  tangents: null,
  warp: null,
  closeness: null,
  flight: null,
  arcs: [],
  allBeads: false,
  ghosts: 0,
  dragged: null,
}));

const { getState: get, setState: set } = useBench;

/** The shot that the views draw. */
export function shownShot(state: BenchState): Shot {
  if (state.comparison === 'before') return state.session.before;
  const shot = triedShot(state) ?? state.session.shot;
  return state.peeked === null ? shot : without(shot, state.peeked);
}

const withoutOne = new WeakMap<Shot, { readonly layer: string; readonly shot: Shot }>();

/** The shot with one layer muted, or a muted one sounding: the same object as long as both are the same. */
function without(shot: Shot, layer: string): Shot {
  let known = withoutOne.get(shot);
  if (known?.layer !== layer) {
    const layers = shot.layers.map((one) => (one.id === layer ? { ...one, muted: !one.muted } : one));
    known = { layer, shot: { ...shot, layers } };
    withoutOne.set(shot, known);
  }
  return known.shot;
}

/** What a variant shows of the shot that is drawn; null where it is gone. */
export function variantShot(state: BenchState, id: string): Shot | null {
  const shot = triedShot(state) ?? state.session.shot;
  const variant = variantsOf(shot).find((one) => one.id === id);
  return variant ? withVariant(shot, variant) : null;
}

/** What is tried on the shot as it now is, or null: what was tried on another is nobody's, whatever changed the shot. */
const livePreview = ({ preview, session }: BenchState): Preview | null =>
  preview?.on === session.shot ? preview : null;

export function previewOf(edit: string, state: BenchState): Preview | null {
  const preview = livePreview(state);
  return preview?.edit === edit ? preview : null;
}

/** The shot with what is being tried, or null. */
function triedShot(state: BenchState): Shot | null {
  const { gesture } = state;
  return (gesture ? gesture.last : livePreview(state))?.outcome.shot ?? null;
}

/** The shot that is drawn as a thin ghost behind: the one before what is being tried, or the one that came. */
export function ghostShot(state: BenchState): Shot | null {
  const tried = triedShot(state);
  if (tried && tried !== state.session.shot) return state.session.shot;
  if (state.peeked !== null) return null;
  if (state.outlined !== null) return variantShot(state, state.outlined);
  return state.comparison === 'outline' && state.session.before !== state.session.shot
    ? state.session.before
    : null;
}

/** The shot that the play-head goes through. */
export const headShot = ({ lookedAt, session }: BenchState): Shot => lookedAt ?? session.shot;

export const headRange = (state: BenchState): FrameRange => headShot(state).range;

/** Whole frame within them. */
function within(frame: number): number {
  const { start, end } = headRange(get());
  return Math.min(Math.max(Math.round(frame), start), end);
}

export const bench = {
  open: (id: string, session: Session, view: BenchView | null): void => {
    // What a hand was still turning is done, whatever comes next.
    bench.commitGesture();
    const { start, end } = session.shot.range;
    const pad = Math.max(1, (end - start) * 0.02);
    set({
      ...useBench.getInitialState(),
      pose: get().pose,
      clip: get().clip,
      tangents: get().tangents,
      id,
      session,
      frame: view?.frame ?? start,
      held: view?.frame ?? start,
      from: view?.from ?? start - pad,
      to: view?.to ?? end + 2 * pad,
    });
  },
  setFrame: (frame: number): void => {
    const at = within(frame);
    set({ frame: at, held: at });
  },
  setReached: (reached: number | null): void => {
    set({ reached });
  },
  /** While it plays: the hand did not choose this frame. */
  playFrame: (frame: number): void => {
    set({ frame: within(frame) });
  },
  goToFrame: (frame: number): void => {
    set({ playing: false });
    bench.setFrame(frame);
  },
  step: (frames: number): void => {
    bench.goToFrame(get().frame + frames);
  },
  /** Plays the marked range again and again, or the whole shot. */
  toggleLoop: (): void => {
    set((state) => ({ looped: !state.looped }));
  },
  setPlaying: (playing: boolean): void => {
    set({ playing });
  },
  lookAt: (lookedAt: Shot | null): void => {
    set({ lookedAt });
    bench.setFrame(get().frame);
  },
  setSpeed: (speed: number): void => {
    set({ speed });
  },
  setAxis: (from: number, to: number): void => {
    if (to - from > 1.5 && to - from < 1e6) set({ from, to });
  },
  setLane: (lane: Partial<LaneView>): void => {
    set((state) => ({ lane: { ...state.lane, ...lane } }));
  },
  setTangents: (tangents: KeyTangents): void => {
    set({ tangents });
  },
  setWarp: (warp: readonly WarpPoint[] | null): void => {
    set({ warp });
  },
  setArcs: (arcs: readonly string[]): void => {
    set({ arcs });
  },
  setAllBeads: (allBeads: boolean): void => {
    set({ allBeads });
  },
  setGhosts: (ghosts: number): void => {
    set({ ghosts });
  },
  setComparison: (comparison: Comparison): void => {
    set({ comparison });
  },
  select: (selection: Selection): void => {
    set((state) => ({ session: select(state.session, selection), report: null }));
  },
  /** Selects controls; added to the selection, or taken out of it, when `toggle` is on. */
  selectNodes: (nodes: readonly string[], toggle = false): void => {
    const { selection } = get().session;
    const known = new Set(selection.nodes);
    const all = nodes.every((node) => known.has(node));
    const chosen = !toggle
      ? nodes
      : all
        ? selection.nodes.filter((node) => !nodes.includes(node))
        : [...new Set([...selection.nodes, ...nodes])];
    bench.select({ ...selection, nodes: chosen, channels: [], keys: {} });
  },
  openEdit: (edit: string | null): void => {
    // Opened once more it goes on as it is.
    if (edit !== get().openEdit) set({ openEdit: edit, preview: null, report: null, asked: null });
  },
  setAsked: (asked: BenchState['asked']): void => {
    if (asked !== get().asked) set({ asked });
  },
  /** Opens an edit whose options were chosen elsewhere, anew where it is open already. */
  openAnew: (edit: string): void => {
    set(({ opened }) => ({ openEdit: edit, preview: null, report: null, asked: null, opened: opened + 1 }));
  },
  setPreview: (preview: Preview | null): void => {
    set({ preview });
  },
  /** Does an edit at once, as one step. */
  perform: (edit: string, options: unknown, selection?: Selection, label?: string): Outcome => {
    const from = selection ? select(get().session, selection) : get().session;
    const { session, outcome } = perform(from, edit, options, label);
    set({ session, report: { edit, report: outcome.report } });
    return outcome;
  },
  /** Goes on with a session that was worked out elsewhere from the one here, step by step. */
  take: (session: Session): void => {
    set({ session, report: null });
  },
  /** Applies what was tried; nothing is worked out again. */
  applyPreview: (): void => {
    const { session } = get();
    const preview = livePreview(get());
    if (!preview?.whole) return;
    set({
      session: commit(session, preview.edit, preview.options, preview.outcome),
      preview: null,
      warp: null,
      report: { edit: preview.edit, report: preview.outcome.report },
    });
  },
  beginGesture: (edit: string): void => {
    set((state) => ({ gesture: beginGesture(state.session, edit), report: null }));
  },
  updateGesture: (options: unknown): void => {
    set(({ gesture }) => (gesture ? { gesture: updateGesture(gesture, options) } : {}));
  },
  commitGesture: (label?: string): void => {
    const { gesture } = get();
    if (!gesture) return;
    const report = gesture.last?.outcome.report;
    set({
      session: commitGesture(gesture, label),
      gesture: null,
      report: report ? { edit: gesture.edit, report } : null,
    });
  },
  cancelGesture: (): void => {
    set({ gesture: null });
  },
  goTo: (at: number): void => {
    set((state) => ({ session: goTo(state.session, at), gesture: null, report: null }));
  },
  /** What is still being turned is taken back by itself, and nothing before it. */
  undo: (): void => {
    if (get().gesture) bench.cancelGesture();
    else set((state) => ({ session: undo(state.session), report: null }));
  },
  redo: (): void => {
    set((state) => ({ session: redo(state.session), gesture: null, report: null }));
  },
  rename: (name: string): void => {
    bench.perform('shot.rename', { name });
  },
  copyPose: (): void => {
    const { session, frame } = get();
    set({ pose: capturePose(session.shot, { ...session.selection, keys: {} }, frame) });
  },
  setPose: (pose: StoredPose): void => {
    set({ pose });
  },
  chooseFilter: (filter: string | null): void => {
    set({ filter });
  },
  /** Looks at the shot without a layer, until null. */
  peek: (peeked: string | null): void => {
    if (get().peeked !== peeked) set({ peeked });
  },
  setBeside: (beside: readonly string[]): void => {
    set({ beside: beside.slice(0, 4) });
  },
  setOutlined: (outlined: string | null): void => {
    set({ outlined });
  },
  setCloseness: (closeness: Closeness | null): void => {
    set({ closeness });
  },
  setFlight: (flight: FlightWish | null): void => {
    set({ flight });
  },
  setClip: (clip: ClipJson): void => {
    set({ clip });
  },
  setDragged: (dragged: BenchState['dragged']): void => {
    set({ dragged });
  },
};

// A shot that has become shorter, by whatever way, takes the play-head along.
useBench.subscribe((now, was) => {
  if (now.session.shot.range === was.session.shot.range) return;
  const [frame, held] = [within(now.frame), within(now.held)];
  if (frame !== now.frame || held !== now.held) set({ frame, held });
  // Whoever saw its end sees it when the shot has grown.
  const [before, after] = [was.session.shot.range.end, now.session.shot.range.end];
  const saw = now.id === was.id && now.to >= before && now.to < after;
  if (saw) set({ to: after + Math.max(1, (after - now.from) * 0.04) });
});
