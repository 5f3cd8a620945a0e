/** How a block moves what travels over the ground: from where it begins, and each time round from where the one before came to. */
import type { FrameRange } from '../../base/frame-range.ts';
import { onFrame } from '../../base/frames.ts';
import type { Rig } from '../../rig/rig.ts';
import type { Context, Layer, StoredAction } from '../layer.ts';
import { ComputedSignal, constantSignal, shared, signalOf } from '../signal.ts';
import type { Signal } from '../signal.ts';
import { endsOf, roundAt, roundsOf, sourceAt } from './block-time.ts';
import { afterMove, moveBetween, movedValues, STAY, stanceOf } from './ground.ts';
import type { GroundMove, Stance } from './ground.ts';
import { actionOf, settingsOf } from './placement-settings.ts';
import type { PlacementSettings } from './placement-settings.ts';
import { jumpsIn, timeInputs } from './shown-signal.ts';

/** How what nothing carries is moved each time round; null where it stays. */
export function movesOf(
  settings: PlacementSettings,
  action: StoredAction,
  rig: Rig,
): readonly GroundMove[] | null {
  const { carry, goesOn, repeats, roots, adds } = settings;
  const rounds = roundsOf(repeats);
  const main = rig.indexOf(roots[0] ?? '');
  if (adds || main < 0 || (carry === null && !(goesOn && repeats > 1))) return null;
  const moves = [carry ?? STAY];
  if (!goesOn) return Array.from({ length: rounds }, () => moves[0]!);
  const { rest, order } = rig.nodes[main]!;
  const at = (frame: number) =>
    stanceOf(
      valuesOf(action, main, rig).map((one) => one.at(frame)),
      rest,
      order,
    );
  const [begins, ends] = endsOf(settings);
  const round = moveBetween(at(begins), at(ends));
  while (moves.length < rounds) moves.push(afterMove(moves[moves.length - 1]!, round));
  return moves;
}

/**
 * Where a block would begin if it were carried nowhere: what moves the figure, and where that stands at its first frame; null where nothing does.
 */
export function beginningOf(
  layer: Layer,
  context: Context,
): { readonly node: number; readonly stance: Stance; readonly turns: boolean } | null {
  const settings = settingsOf(layer);
  const action = actionOf(settings, context.actions);
  const node = context.rig.indexOf(settings.roots[0] ?? '');
  if (!action || !layer.range || node < 0 || settings.adds) return null;
  const { rest, order } = context.rig.nodes[node]!;
  const { start } = layer.range;
  const source = onFrame(sourceAt(settings, start));
  const values = valuesOf(action, node, context.rig).map((one) => one.at(source));
  const moves = movesOf({ ...settings, carry: null }, action, context.rig);
  const shown = moves ? movedValues(values, moves[roundAt(settings, start)]!, rest, order) : values;
  const turns = SIX.slice(3).some((name) => action.curves[node]?.[name] !== undefined);
  return { node, stance: stanceOf(shown, rest, order), turns };
}

const SIX = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz'] as const;
const NOTHING_KEYED = constantSignal({}, 0);

const valuesOf = ({ curves }: StoredAction, node: number, rig: Rig): readonly Signal[] => {
  const held = SIX.map((name) => curves[node]?.[name]);
  return held.map((curve, slot) =>
    curve && rig.slots[node * 9 + slot]! >= 0 ? signalOf(curve) : NOTHING_KEYED,
  );
};

/** The six values of a node that is moved over the ground; the last frame that was asked for is kept for the other five. */
class MovedNode {
  private last: { readonly frame: number; readonly values: readonly number[] } | null = null;
  private readonly ask: (frame: number) => readonly number[];
  readonly jumps: (range: FrameRange) => readonly number[];

  constructor(ask: (frame: number) => readonly number[], jumps: (range: FrameRange) => readonly number[]) {
    [this.ask, this.jumps] = [ask, jumps];
  }
  at(at: number): readonly number[] {
    if (this.last?.frame !== at) this.last = { frame: at, values: this.ask(at) };
    return this.last.values;
  }
}

class MovedValue extends ComputedSignal {
  private readonly node: MovedNode;
  private readonly slot: number;

  constructor(node: MovedNode, slot: number) {
    super();
    [this.node, this.slot] = [node, slot];
  }
  protected valueAt(at: number): number {
    return this.node.at(at)[this.slot]!;
  }
  jumps(range: FrameRange): readonly number[] {
    return this.node.jumps(range);
  }
}

export function movedSignals(
  settings: PlacementSettings,
  action: StoredAction,
  rig: Rig,
  node: number,
  moves: readonly GroundMove[],
): ReadonlyMap<number, Signal> {
  const own = valuesOf(action, node, rig);
  const { rest, order } = rig.nodes[node]!;
  const inputs = [...timeInputs(settings), ...moves.flatMap(({ turn, x, z: side }) => [turn, x, side])];
  const six = shared(action.curves[node]!, ['moved', rest, order, ...inputs], () => {
    const moved = new MovedNode(
      (at) => {
        const source = onFrame(sourceAt(settings, at));
        return movedValues(
          own.map((one) => one.at(source)),
          moves[roundAt(settings, at)]!,
          rest,
          order,
        );
      },
      (range) => jumpsIn(settings, range, own),
    );
    return SIX.map((_, slot) => new MovedValue(moved, slot));
  });
  // What is turned may need angles, and what is moved places, that the action itself does not key.
  const keyed = SIX.map((name) => action.curves[node]?.[name] !== undefined);
  const [places, angles] = [keyed.slice(0, 3).includes(true), keyed.slice(3).includes(true)];
  const turns = moves.some(({ turn }) => turn !== 0);
  return new Map(
    six.flatMap((signal, slot) => {
      const c = rig.slots[node * 9 + slot]!;
      const counts = keyed[slot] || (slot < 3 ? places && (turns || slot !== 1) : angles && turns);
      return c >= 0 && counts ? [[c, signal] as const] : [];
    }),
  );
}
