/**
 * The bench's keystrokes, as one table: the listener and the Help page read it, and nothing listens beside it.
 *
 * By Kneader's own reason. The six tangent kinds lie under the left hand as they lie in the panel: Q W E above A S D. Letters beyond the
 * pad begin what they do (N new key, B before, O overview, K keys in sight, P play range, C curves of everything, I isolate, M one
 * measure, R range, X box, U unseen, L lock, T tangent, F frame what is selected, H handle, J jot down a marker); Shift widens or undoes what the letter does. Pages are
 * turned from key to key, with Shift from pose to pose. Space, arrows, Home, End, Delete, Enter and Escape mean what they mean
 * everywhere, and so do F2, Ctrl A, C, X, V, Z and Y. The numbers are left for variants, with Shift for selection sets.
 */
import {
  applyTried,
  tryAgain,
  changeGap,
  chooseSet,
  chooseAllKeys,
  chooseNextKeys,
  compareTwo,
  copyTangent,
  deleteSelectedKeys,
  escape,
  findEdit,
  flipHere,
  frameCurves,
  frameStage,
  giveTangent,
  hideCurves,
  invertKeys,
  isolateCurves,
  listKeys,
  lockChosen,
  markRange,
  nudgeKeys,
  renameShot,
  setTangentKind,
  stepColumn,
  stepKey,
  TANGENT_KINDS,
  toggleArcs,
  toggleHandle,
} from '../bench-actions.ts';
import { jotMarker, nextMarker } from '../lanes/named-marker.ts';
import { toggleNotes } from '../notes/notes-open.ts';
import { showNextVariant, showVariant } from '../variant-steps.ts';
import { bench, headRange, useBench } from '../bench-store.ts';

export const SHORTCUT_GROUPS = ['Time', 'Keys', 'Curves in sight', 'Stage', 'Edits'] as const;

export interface Shortcut {
  /** What a change of the stroke is kept under. */
  readonly id: string;
  /** `N`, `Shift+N`, `Alt+ArrowLeft`, `Ctrl+Z`. */
  readonly press: string;
  readonly does: string;
  readonly group: (typeof SHORTCUT_GROUPS)[number];
  readonly run: () => void;
  /** Done while the stroke is held; gives what ends it. */
  readonly whileHeld?: () => () => void;
}

const frameNow = () => useBench.getState().frame;
const range = () => headRange(useBench.getState());
const lane = () => useBench.getState().lane;

type Line = readonly [id: string, press: string, does: string, run: () => void];
const grouped = (group: Shortcut['group'], lines: readonly Line[]): Shortcut[] =>
  lines.map(([id, press, does, run]) => ({ id, press, does, group, run }));

const PAD = ['Q', 'W', 'E', 'A', 'S', 'D'];

function holdBefore(): () => void {
  const { comparison } = useBench.getState();
  bench.setComparison('before');
  return () => bench.setComparison(comparison);
}

export const SHORTCUTS: readonly Shortcut[] = [
  ...grouped('Time', [
    ['play', 'Space', 'Play or stop', () => bench.setPlaying(!useBench.getState().playing)],
    ['playRange', 'Shift+Space', 'Play only the marked range, or all again', () => bench.toggleLoop()],
    ['back', 'ArrowLeft', 'One frame back', () => bench.step(-1)],
    ['on', 'ArrowRight', 'One frame on', () => bench.step(1)],
    ['back10', 'Shift+ArrowLeft', 'Ten frames back', () => bench.step(-10)],
    ['on10', 'Shift+ArrowRight', 'Ten frames on', () => bench.step(10)],
    ['first', 'Home', 'To the first frame', () => bench.setFrame(range().start)],
    ['last', 'End', 'To the last frame', () => bench.setFrame(range().end)],
    ['markRange', 'R', 'Range: it begins here; pressed again elsewhere, it ends there', markRange],
    ['nextKey', 'PageDown', 'To the next key in the lane', () => stepKey(1)],
    ['previousKey', 'PageUp', 'To the previous key', () => stepKey(-1)],
    ['nextColumn', 'Shift+PageDown', 'To the next pose column', () => stepColumn(1)],
    ['previousColumn', 'Shift+PageUp', 'To the previous pose column', () => stepColumn(-1)],
    ['marker', 'J', 'A marker at the play-head, or its name', jotMarker],
    ['nextMarker', 'Shift+J', 'To the next marker', nextMarker],
    ['notes', 'Shift+N', 'Notes: what was said, and a new one here', toggleNotes],
    ['gapMore', '+', 'A frame more in the gap of the pose that is held', () => changeGap(1)],
    ['gapMoreShift', 'Shift++', 'A frame more in the gap of the pose that is held', () => changeGap(1)],
    ['gapLess', '-', 'A frame less in the gap of the pose that is held', () => changeGap(-1)],
  ]),
  ...grouped('Keys', [
    ['newKey', 'N', 'New keys at the play-head', () => bench.perform('keys.add', { frame: frameNow() })],
    ['delete', 'Delete', 'Delete the chosen keys', deleteSelectedKeys],
    ['deleteBack', 'Backspace', 'Delete the chosen keys', deleteSelectedKeys],
    ['allKeys', 'Ctrl+A', 'Choose all keys of the curves in the lane', chooseAllKeys],
    ['invertKeys', 'Ctrl+I', 'Choose the others in their place', invertKeys],
    ['chooseNext', 'Ctrl+ArrowRight', 'Choose the next keys', () => chooseNextKeys(1, false)],
    ['choosePrevious', 'Ctrl+ArrowLeft', 'Choose the previous keys', () => chooseNextKeys(-1, false)],
    ['extendNext', 'Ctrl+Shift+ArrowRight', 'And the next keys', () => chooseNextKeys(1, true)],
    ['extendPrevious', 'Ctrl+Shift+ArrowLeft', 'And the previous keys', () => chooseNextKeys(-1, true)],
    ['earlier', 'Alt+ArrowLeft', 'Chosen keys a frame earlier', () => nudgeKeys(-1, 0)],
    ['later', 'Alt+ArrowRight', 'Chosen keys a frame later', () => nudgeKeys(1, 0)],
    ['up', 'Alt+ArrowUp', 'Chosen keys up by 1', () => nudgeKeys(0, 1)],
    ['down', 'Alt+ArrowDown', 'Chosen keys down by 1', () => nudgeKeys(0, -1)],
    ['upFine', 'Shift+Alt+ArrowUp', 'Chosen keys up by 0.1', () => nudgeKeys(0, 0.1)],
    ['downFine', 'Shift+Alt+ArrowDown', 'Chosen keys down by 0.1', () => nudgeKeys(0, -0.1)],
    ...TANGENT_KINDS.map((kind, i): Line => [
      `tangent.${kind}`,
      PAD[i]!,
      `Tangent kind: ${kind}`,
      () => setTangentKind(kind),
    ]),
    ['copyTangent', 'T', 'Copy the tangents of the chosen key', copyTangent],
    ['giveTangent', 'Shift+T', 'Give the copied tangents to the chosen keys', giveTangent],
    ['lock', 'L', 'Lock the chosen keys, or else channels', () => lockChosen(true)],
    ['unlock', 'Shift+L', 'Unlock them', () => lockChosen(false)],
    ['flip', 'Shift+R', 'Flip the pose at the play-head, left and right', flipHere],
  ]),
  ...grouped('Curves in sight', [
    ['whole', 'O', 'Overview: all of the curves', () => frameCurves('all')],
    ['showKeys', 'K', 'The chosen keys', () => frameCurves('keys')],
    ['showRange', 'P', 'The play range', () => frameCurves('range')],
    [
      'everything',
      'C',
      'Curves of everything, or only of what is selected',
      () => bench.setLane({ showing: lane().showing === 'all' ? 'selected' : 'all' }),
    ],
    ['isolate', 'I', 'Isolate the chosen curves, or show all again', isolateCurves],
    ['hide', 'U', 'Unseen: hide the chosen curves', () => hideCurves(true)],
    ['unhide', 'Shift+U', 'Show the hidden curves', () => hideCurves(false)],
    [
      'oneMeasure',
      'M',
      'One measure for curves of different size (normalised)',
      () => bench.setLane({ normalised: !lane().normalised }),
    ],
    ['listKeys', 'Shift+K', 'The keys of a curve as a list', () => listKeys()],
    ['box', 'X', 'Transform box around the chosen keys', () => bench.setLane({ box: !lane().box })],
  ]),
  ...grouped('Stage', [
    ['compare', 'Shift+C', 'Compare any two, and back', () => compareTwo()],
    ['frameStage', 'F', 'Frame what is selected, or all that moves', frameStage],
    ['nextVariant', 'V', 'The next variant of the stack', () => showNextVariant(1)],
    ['previousVariant', 'Shift+V', 'The variant before it', () => showNextVariant(-1)],
    ...Array.from({ length: 9 }, (_, i): Line => [
      `variant.${i + 1}`,
      String(i + 1),
      `Variant ${i + 1}`,
      () => showVariant(i),
    ]),
    ['handle', 'H', 'The handle moves, or turns', toggleHandle],
    ...Array.from({ length: 9 }, (_, i): Line => [
      `set.${i + 1}`,
      `Shift+${i + 1}`,
      `Selection set ${i + 1}`,
      () => chooseSet(i + 1),
    ]),
    ['arcs', 'Shift+A', 'Arcs of the selected controls', toggleArcs],
  ]),
  {
    id: 'before',
    press: 'B',
    does: 'Before, while it is held',
    group: 'Stage',
    run: () => holdBefore()(),
    whileHeld: holdBefore,
  },
  ...grouped('Edits', [
    ['find', '/', 'Find an edit', findEdit],
    ['apply', 'Enter', 'Apply what is tried', applyTried],
    ['again', 'Shift+Enter', 'Try what was applied once more', tryAgain],
    ['escape', 'Escape', 'Leave: the drag, the edit, the chosen keys, channels, controls', escape],
    ['undo', 'Ctrl+Z', 'Undo', bench.undo],
    ['redo', 'Ctrl+Shift+Z', 'Redo', bench.redo],
    ['redoY', 'Ctrl+Y', 'Redo', bench.redo],
    ['rename', 'F2', 'Rename the shot', renameShot],
  ]),
];

/** The same with the digit that a key has wherever Shift writes something else there; null for other keys. */
export const digitPressOf = (event: KeyboardEvent): string | null =>
  event.shiftKey && !event.ctrlKey && !event.metaKey && !event.altKey && /^Digit[1-9]$/.test(event.code)
    ? `Shift+${event.code.slice(-1)}`
    : null;

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
