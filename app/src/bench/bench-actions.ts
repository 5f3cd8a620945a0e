/** What keystrokes and buttons of the bench share. */
import { copyTangents, curveOf, membersOf, poseColumns, rowOfId, selectionSetsOf } from '@kneader/core';
import type { ChannelId } from '@kneader/core';
import { bench, shownShot, useBench } from './bench-store.ts';
import { allKeys, invertedKeys, keyFrames, keysOn, nextFrame, unitedKeys } from './keys/key-steps.ts';
import { meantChannels, shownCurves } from './lanes/lane-view.ts';
import type { ShownCurve } from './lanes/curve-view.ts';
import { benchCall } from './bench-call.ts';
import { doingOf, ledNodes } from './stage/handled.ts';
import { setHandle, useHandleMode } from './stage/handle-mode.ts';

export const TANGENT_KINDS = ['stepped', 'linear', 'flat', 'smooth', 'steady', 'free'] as const;
export type TangentChoice = (typeof TANGENT_KINDS)[number];

function hasSelectedKeys(): boolean {
  return Object.values(useBench.getState().session.selection.keys).some((ids) => ids.length > 0);
}

export function setTangentKind(kind: TangentChoice): void {
  if (hasSelectedKeys()) bench.perform('tangents.set', { kind });
}

/** Deleting acts on chosen keys only: whole curves go through the panel, where what will happen is seen first. */
export function deleteSelectedKeys(): void {
  if (hasSelectedKeys()) bench.perform('keys.delete', {});
}

export function nudgeKeys(frames: number, value: number): void {
  if (hasSelectedKeys()) bench.perform('keys.move', { frames, value });
}

export function pastePose(flip: boolean, exclude: readonly string[] = []): void {
  const { pose, frame, session } = useBench.getState();
  if (!pose) return;
  const { layer } = session.selection;
  bench.perform('poses.paste', { pose, frame, flip, exclude: [...exclude] });
  // A paste keys other controls than those selected; the layer stays.
  if (useBench.getState().session.selection.layer !== layer) bench.select({ ...session.selection, layer });
}

/** The tangents of the one key that is chosen, or of the first of several. */
export function copyTangent(): void {
  const { shot, selection } = useBench.getState().session;
  const found = Object.entries(selection.keys).find(([, ids]) => ids.length > 0);
  if (!found) return;
  const curve = curveOf(shot, selection.layer, found[0]);
  const row = rowOfId(curve, found[1][0]!);
  if (row >= 0) bench.setTangents(copyTangents(curve, row));
}

export function giveTangent(): void {
  const { tangents } = useBench.getState();
  if (tangents && hasSelectedKeys()) bench.perform('tangents.set', { like: tangents });
}

/** Locks or unlocks the chosen keys; where none is chosen, the chosen channels. */
export function lockChosen(locked: boolean): void {
  if (hasSelectedKeys()) bench.perform('keys.lock', { locked });
  else lockChannels(useBench.getState().session.selection.channels, locked);
}

export function lockChannels(channels: readonly ChannelId[], locked: boolean): void {
  if (channels.length > 0) bench.perform('keys.lockChannels', { channels: [...channels], locked });
}

function meant(): ChannelId[] {
  const { session, lane } = useBench.getState();
  return meantChannels(session.shot, session.selection, lane);
}

/** Only the curves that are meant; all again when they are isolated already. */
export function isolateCurves(): void {
  const { lane } = useBench.getState();
  bench.setLane({ isolated: lane.isolated.length > 0 ? [] : meant() });
}

/** Hides the curves that are meant, or shows all hidden ones. */
export function hideCurves(hide: boolean): void {
  const { lane, session } = useBench.getState();
  bench.setLane({ hidden: hide ? [...new Set([...lane.hidden, ...meant()])] : [] });
  if (hide) bench.select({ ...session.selection, keys: {} });
}

/**
 * Adds frames to the gap at the play-head, or takes them; whatever is later ripples, as the poses lane has it. While it plays the pose is meant on which the
 * hand last stood, not whichever passes by.
 */
export function changeGap(by: number): void {
  const { frame, held, playing, lane } = useBench.getState();
  const { timeScope: scope, ripples } = lane;
  bench.perform('timing.setGap', { frame: playing ? held : frame, by, scope, ripples });
}

/** A range that is marked from the keyboard: one press begins it, the next ends it, and a press on its only frame takes it back. */
export function markRange(): void {
  const { session, frame: at } = useBench.getState();
  const { range } = session.selection;
  const frame = Math.round(at);
  const begun = range !== null && range.start === range.end ? range.start : null;
  const next = begun === null ? frame : begun;
  bench.select({
    ...session.selection,
    range: begun === frame ? null : { start: Math.min(next, frame), end: Math.max(next, frame) },
  });
}

/** Draws the paths of the selected controls on the stage; those that are drawn already go. */
export function toggleArcs(): void {
  const { arcs, session } = useBench.getState();
  const { nodes } = session.selection;
  if (nodes.length === 0) bench.setArcs([]);
  else if (nodes.every((node) => arcs.includes(node)))
    bench.setArcs(arcs.filter((node) => !nodes.includes(node)));
  else bench.setArcs([...new Set([...arcs, ...nodes])].slice(0, MOST_ARCS));
}

/** More paths than these could not be told apart. */
const MOST_ARCS = 8;

/** Selects the set that has a digit; nothing where none has it. */
export function chooseSet(digit: number): void {
  const { shot } = useBench.getState().session;
  const set = selectionSetsOf(shot).find((one) => one.digit === digit);
  if (set) bench.selectNodes(membersOf(shot, set));
}

/** The handle on the stage moves where it turned, and turns where it moved; where only one can be, nothing. */
export function toggleHandle(): void {
  const { shot, selection } = useBench.getState().session;
  const does = doingOf(ledNodes(shot.nodes, selection.nodes), useHandleMode.getState().does, shot.nodes);
  if (does) setHandle({ does: does === 'move' ? 'turn' : 'move' });
}

export function flipHere(): void {
  bench.perform('poses.flip', { frame: useBench.getState().frame });
}

/** Leaves the innermost thing that is under way, or lets go of the narrowest thing that is chosen. */
export function escape(): void {
  const { gesture, openEdit, session } = useBench.getState();
  const { selection } = session;
  if (gesture) bench.cancelGesture();
  else if (openEdit) bench.openEdit(null);
  else if (hasSelectedKeys() || selection.range) bench.select({ ...selection, keys: {}, range: null });
  else if (selection.channels.length > 0) bench.select({ ...selection, channels: [] });
  else bench.select({ ...selection, nodes: [] });
}

function curvesInLane(): ShownCurve[] {
  const state = useBench.getState();
  return shownCurves(shownShot(state), state.session.selection, state.lane);
}

/** The play-head to the next key of the curves in the lane. */
export function stepKey(way: 1 | -1): void {
  const to = nextFrame(keyFrames(curvesInLane()).map(Math.round), useBench.getState().frame, way);
  if (to !== null) bench.goToFrame(to);
}

export function stepColumn(way: 1 | -1): void {
  const { session, frame } = useBench.getState();
  const to = nextFrame(poseColumns(session.shot).frames, frame, way);
  if (to !== null) bench.goToFrame(to);
}

/**
 * Chooses the keys of the lane's curves on the next frame that has any, from the chosen ones on, or from the play-head; the play-head
 * goes along.
 */
export function chooseNextKeys(way: 1 | -1, extend: boolean): void {
  const curves = curvesInLane();
  const { session, frame } = useBench.getState();
  const { selection } = session;
  const chosen = curves.flatMap(({ channel, curve }) =>
    (selection.keys[channel] ?? []).flatMap((id) => {
      const row = rowOfId(curve, id);
      return row < 0 ? [] : [curve.times[row]!];
    }),
  );
  const from = chosen.length === 0 ? frame - way * 1e-3 : way > 0 ? Math.max(...chosen) : Math.min(...chosen);
  const to = nextFrame(keyFrames(curves), from, way);
  if (to === null) return;
  const found = keysOn(curves, to);
  bench.select({ ...selection, keys: extend ? unitedKeys(selection.keys, found) : found });
  bench.goToFrame(Math.round(to));
}

export function chooseAllKeys(): void {
  bench.select({ ...useBench.getState().session.selection, keys: allKeys(curvesInLane()) });
}

export function invertKeys(): void {
  const { selection } = useBench.getState().session;
  bench.select({ ...selection, keys: invertedKeys(curvesInLane(), selection.keys) });
}

/** What the curves lane can be asked to show: all of its curves, the chosen keys, the play range, or all values on the frames that it shows. */
export type Framing = 'all' | 'keys' | 'range' | 'values';

export const [frameCurves, onFrameCurves] = benchCall<Framing>();
/** The stage shows what is selected, or all that moves. */
export const [frameStage, onFrameStage] = benchCall();
/** Two are compared, or no longer. */
export const [compareTwo, onCompareTwo] = benchCall();
/** The search of edits opens. */
export const [findEdit, onFindEdit] = benchCall();
/** The keys of a curve are listed. */
export const [listKeys, onListKeys] = benchCall();
/** The open panel applies what it tries, once. */
export const [applyTried, onApplyTried] = benchCall();
/** The open panel tries once more what it has applied. */
export const [tryAgain, onTryAgain] = benchCall();
/** The shot's name is written anew. */
export const [renameShot, onRenameShot] = benchCall();

/**
 * Shows values at the play-head: keyed on the chosen pass, or on the base. One gesture from the first update to the end.
 */
export const posing = {
  begin: (): void => {
    const { layer } = useBench.getState().session.selection;
    bench.beginGesture(layer === null ? 'poses.paste' : 'passes.pose');
  },
  update: (values: Readonly<Record<string, number>>, frame = useBench.getState().frame): void => {
    const { session } = useBench.getState();
    const { layer } = session.selection;
    bench.updateGesture(
      layer === null
        ? { pose: { name: 'Posed', values }, frame, whole: true }
        : { pass: layer, values, frame, whole: true },
    );
  },
  end: (label: string): void => {
    bench.commitGesture(label);
  },
};
