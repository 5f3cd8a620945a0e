/**
 * The bench's keystrokes, as one table: the listener and the Help page read it.
 *
 * By Kneader's own reason: the numbers are the tangent kinds in the order in which the panel lists them; letters begin what they
 * do (N new key, B before, O overview, K keys in sight, P play range, E everything, I isolate, M one measure, X box, U unseen, L
 * lock, T tangent); Shift widens or undoes what the letter does. Space, arrows, Home, End, Delete and Escape mean what they
 * mean everywhere, and so do Ctrl C, X, V, Z and Y.
 */
import {
  changeGap,
  copyTangent,
  deleteSelectedKeys,
  escape,
  flipHere,
  frameCurves,
  giveTangent,
  hideCurves,
  isolateCurves,
  lockChosen,
  nudgeKeys,
  setTangentKind,
  TANGENT_KINDS,
  toggleArcs,
} from './bench-actions.ts';
import { bench, useBench } from './bench-store.ts';

export interface Shortcut {
  /** `N`, `Shift+N`, `Alt+ArrowLeft`, `Ctrl+Z`. */
  readonly press: string;
  readonly does: string;
  readonly group: 'Time' | 'Keys' | 'Curves in sight' | 'History' | 'Compare';
  readonly run: () => void;
  /** Left to a button or slider that has the focus. */
  readonly yields?: boolean;
}

const frameNow = () => useBench.getState().frame;
const range = () => useBench.getState().session.shot.range;
const lane = () => useBench.getState().lane;

export const SHORTCUTS: readonly Shortcut[] = [
  {
    press: 'Space',
    does: 'Play or stop',
    group: 'Time',
    yields: true,
    run: () => bench.setPlaying(!useBench.getState().playing),
  },
  { press: 'ArrowLeft', does: 'One frame back', group: 'Time', yields: true, run: () => bench.step(-1) },
  { press: 'ArrowRight', does: 'One frame on', group: 'Time', yields: true, run: () => bench.step(1) },
  {
    press: 'Shift+ArrowLeft',
    does: 'Ten frames back',
    group: 'Time',
    yields: true,
    run: () => bench.step(-10),
  },
  {
    press: 'Shift+ArrowRight',
    does: 'Ten frames on',
    group: 'Time',
    yields: true,
    run: () => bench.step(10),
  },
  { press: 'Home', does: 'To the first frame', group: 'Time', run: () => bench.setFrame(range().start) },
  { press: 'End', does: 'To the last frame', group: 'Time', run: () => bench.setFrame(range().end) },

  { press: '+', does: 'A frame more in the gap at the play-head', group: 'Time', run: () => changeGap(1) },
  {
    press: 'Shift++',
    does: 'A frame more in the gap at the play-head',
    group: 'Time',
    run: () => changeGap(1),
  },
  { press: '-', does: 'A frame less in the gap at the play-head', group: 'Time', run: () => changeGap(-1) },
  { press: 'Shift+R', does: 'Flip the pose at the play-head, left and right', group: 'Keys', run: flipHere },

  {
    press: 'N',
    does: 'New keys at the play-head',
    group: 'Keys',
    run: () => bench.perform('keys.add', { frame: frameNow() }),
  },
  { press: 'Delete', does: 'Delete the chosen keys', group: 'Keys', run: deleteSelectedKeys },
  { press: 'Backspace', does: 'Delete the chosen keys', group: 'Keys', run: deleteSelectedKeys },
  { press: 'Alt+ArrowLeft', does: 'Chosen keys a frame earlier', group: 'Keys', run: () => nudgeKeys(-1, 0) },
  { press: 'Alt+ArrowRight', does: 'Chosen keys a frame later', group: 'Keys', run: () => nudgeKeys(1, 0) },
  { press: 'Alt+ArrowUp', does: 'Chosen keys up by 1', group: 'Keys', run: () => nudgeKeys(0, 1) },
  { press: 'Alt+ArrowDown', does: 'Chosen keys down by 1', group: 'Keys', run: () => nudgeKeys(0, -1) },
  { press: 'Shift+Alt+ArrowUp', does: 'Chosen keys up by 0.1', group: 'Keys', run: () => nudgeKeys(0, 0.1) },
  {
    press: 'Shift+Alt+ArrowDown',
    does: 'Chosen keys down by 0.1',
    group: 'Keys',
    run: () => nudgeKeys(0, -0.1),
  },
  ...TANGENT_KINDS.map((kind, i): Shortcut => ({
    press: String(i + 1),
    does: `Tangent kind: ${kind}`,
    group: 'Keys',
    run: () => setTangentKind(kind),
  })),
  { press: 'T', does: 'Copy the tangents of the chosen key', group: 'Keys', run: copyTangent },
  { press: 'Shift+T', does: 'Give the copied tangents to the chosen keys', group: 'Keys', run: giveTangent },
  { press: 'L', does: 'Lock the chosen keys, or else channels', group: 'Keys', run: () => lockChosen(true) },
  { press: 'Shift+L', does: 'Unlock them', group: 'Keys', run: () => lockChosen(false) },

  {
    press: 'O',
    does: 'Overview: all of the curves',
    group: 'Curves in sight',
    run: () => frameCurves('all'),
  },
  { press: 'K', does: 'The chosen keys', group: 'Curves in sight', run: () => frameCurves('keys') },
  { press: 'P', does: 'The play range', group: 'Curves in sight', run: () => frameCurves('range') },
  {
    press: 'E',
    does: 'Curves of everything, or only of what is selected',
    group: 'Curves in sight',
    run: () => bench.setLane({ showing: lane().showing === 'all' ? 'selected' : 'all' }),
  },
  {
    press: 'I',
    does: 'Isolate the chosen curves, or show all again',
    group: 'Curves in sight',
    run: isolateCurves,
  },
  {
    press: 'U',
    does: 'Unseen: hide the chosen curves',
    group: 'Curves in sight',
    run: () => hideCurves(true),
  },
  {
    press: 'Shift+U',
    does: 'Show the hidden curves',
    group: 'Curves in sight',
    run: () => hideCurves(false),
  },
  {
    press: 'M',
    does: 'One measure for curves of different size (normalised)',
    group: 'Curves in sight',
    run: () => bench.setLane({ normalised: !lane().normalised }),
  },
  {
    press: 'X',
    does: 'Transform box around the chosen keys',
    group: 'Curves in sight',
    run: () => bench.setLane({ box: !lane().box }),
  },

  { press: 'A', does: 'Arcs of the selected controls on the stage', group: 'Compare', run: toggleArcs },
  {
    press: 'B',
    does: 'Before, while it is held',
    group: 'Compare',
    run: () => bench.setComparison('before'),
  },
  { press: 'Ctrl+Z', does: 'Undo', group: 'History', run: bench.undo },
  { press: 'Ctrl+Shift+Z', does: 'Redo', group: 'History', run: bench.redo },
  { press: 'Ctrl+Y', does: 'Redo', group: 'History', run: bench.redo },
  { press: 'Escape', does: 'Leave: the drag, the edit, the chosen keys', group: 'History', run: escape },
];

/** The press of an event, as the table writes it. */
export function pressOf(event: KeyboardEvent): string {
  const key = event.key === ' ' ? 'Space' : event.key.length === 1 ? event.key.toUpperCase() : event.key;
  const held = [
    (event.ctrlKey || event.metaKey) && 'Ctrl',
    event.shiftKey && 'Shift',
    event.altKey && 'Alt',
  ].filter((name) => name !== false);
  return [...held, key].join('+');
}
