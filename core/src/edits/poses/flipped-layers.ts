/**
 * What lies over a motion, flipped with it: filters, passes and blocks go over to the partners of their members as far as the range goes, in place or placed
 * after it. A layer that lives beyond the range is one there, and another one within.
 */
import { isKeyedWeight } from '../../layers/weight.ts';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { inRange } from '../../base/frame-range.ts';
import type { FrameRange } from '../../base/frame-range.ts';
import { rising } from '../../base/frames.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import type { Curve } from '../../curve/curve.ts';
import { curveAlong, shownBy } from '../../curve/curve-through.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { jumpsOfCurve } from '../../curve/jumps.ts';
import { later } from '../../curve/later.ts';
import { effectOf, isBlock, isKeyed, kindOf } from '../../layers/kinds.ts';
import type { Layer, LayerRange } from '../../layers/layer.ts';
import { throughTime } from '../../document/parts/part.ts';
import type { Going } from '../../document/parts/going.ts';
import { layersPart } from '../../document/parts/layer-parts.ts';
import { variantsPart } from '../../document/parts/variants-part.ts';
import type { PlaneChoice } from '../../mirror/mirror-plane.ts';
import { curvesIn, splitChannel, withCurves } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { isPlacement } from '../placements/placement-option.ts';
import type { Placement } from '../placements/placement-option.ts';
import { flippedCurves } from './flipped-curves.ts';

/** A weight that is repeated keeps to it within this. */
const NEAR_ENOUGH = 1e-7;

export interface FlippedLayers {
  readonly shot: Shot;
  readonly findings: readonly Finding[];
}

interface Flip {
  readonly shot: Shot;
  /** What takes part, partners too. */
  readonly nodes: ReadonlySet<string>;
  readonly choice: PlaneChoice;
  readonly say: { readonly blocks: string[]; readonly asTheyAre: string[] };
}

/** How far two copies of one layer stand apart, so that never both count on a frame. */
const APART = 1e-6;

/**
 * @param shot with the curves of base and passes flipped already
 * @param nodes what takes part, with partners
 * @param range what is flipped, in place or onto the frames that follow it
 * @param cut the passes that were cut for it
 */
export function flippedLayers(
  shot: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
  append: boolean,
  choice: PlaneChoice,
  cut: Omit<CoversCut, 'shot'>,
): FlippedLayers {
  const { outside, inside } = cut;
  const meant = ({ id, locked, members }: Layer) =>
    !locked && !outside.has(id) && members.some((member) => nodes.has(member));
  const findings: Finding[] = [];
  const locked = shot.layers.filter(
    (layer) => layer.locked && layer.members.some((member) => nodes.has(member)),
  );
  findings.push(
    ...locked.filter((layer) => !isKeyed(layer)).map(({ name }) => finding('lockedPass', {}, name)),
  );
  if (!shot.layers.some(meant)) return { shot, findings };
  const ready = append
    ? appended(shot, (layer) => meant(layer) && !inside.has(layer.id), range, findings)
    : shot;
  const place = placeOf(range, append);
  const say = { blocks: [] as string[], asTheyAre: [] as string[] };
  let after = ready;
  const split: Layer[] = [];
  const copies: Going['copies'] = new Map();
  for (const layer of ready.layers) {
    const flip = { shot: after, nodes, choice, say };
    const parts =
      meant(layer) && changes(layer, flip)
        ? partsOf(layer, place, after.range, [...ready.layers, ...split])
        : [];
    if (parts.length === 0) {
      split.push(layer);
      if (isPlacement(layer) && meant(layer)) {
        const block = blockOver(layer, range, append, flip);
        if (block.layer !== layer && append) {
          split.push(block.layer);
          copies.set(
            layer.id,
            [layer, block.layer].map(({ id }) => ({ id, weight: (weight) => weight })),
          );
        } else split[split.length - 1] = block.layer;
        after = block.shot;
      }
      continue;
    }
    copies.set(
      layer.id,
      parts.map(({ layer: { id } }) => ({ id, weight: (weight) => weight })),
    );
    for (const { layer: part, inside } of parts) {
      if (!inside) {
        split.push(part);
        continue;
      }
      const flipped = flippedLayer(part, flip);
      if (flipped === null) say.asTheyAre.push(layer.name);
      split.push(flipped ?? part);
    }
  }
  const same = split.length === ready.layers.length && split.every((layer, i) => layer === ready.layers[i]);
  if (!same) after = { ...after, layers: split };
  if (after.variants) after = { ...after, variants: carriedVariants(after, copies) };
  if (say.blocks.length > 0) findings.push(finding('placementsUnflipped', {}, say.blocks));
  if (say.asTheyAre.length > 0) findings.push(finding('noMirrorImage', {}, say.asTheyAre));
  return { shot: after, findings };
}

const UNCHANGED = { pieces: [], weight: (one: Curve) => one, say: () => undefined };
const carriedVariants = (shot: Shot, copies: Going['copies']) =>
  throughTime(variantsPart, shot.variants!, { ...UNCHANGED, range: shot.range, copies });

export interface CoversCut {
  readonly shot: Shot;
  /** Passes that are to be left as they are: what they cover is not flipped. */
  readonly outside: ReadonlySet<string>;
  /** Those that count where something is flipped, and nowhere else. */
  readonly inside: ReadonlySet<string>;
}

/** Passes that cover what lies below, cut where a flip ends: what is flipped covers the other side, and outside nothing may. */
export function withCoversCut(
  given: Shot,
  nodes: ReadonlySet<string>,
  range: FrameRange,
  append: boolean,
): CoversCut {
  const partnerOf = partnersIn({ shot: given, nodes });
  const isCut = (layer: Layer) => {
    if (!isKeyed(layer) || effectOf(layer) !== 'covers' || layer.locked) return false;
    const keyed = new Set([...curvesIn(layer.curves, given.nodes)].map(([id]) => splitChannel(id).node));
    return [...keyed].some((node) => !keyed.has(partnerOf(node)));
  };
  const place = placeOf(range, append);
  const shown = { start: given.range.start, end: Math.max(given.range.end, place.end) };
  const shot = append ? appended(given, isCut, range, []) : given;
  const [outside, inside] = [new Set<string>(), new Set<string>()];
  const copies: Going['copies'] = new Map();
  const layers = shot.layers.flatMap((layer) => {
    const parts = isCut(layer) ? partsOf(layer, place, shown, shot.layers) : [];
    if (parts.length === 0) return [layer];
    copies.set(
      layer.id,
      parts.map(({ layer: { id } }) => ({ id, weight: (weight: Curve) => weight })),
    );
    for (const part of parts) (part.inside ? inside : outside).add(part.layer.id);
    return parts.map(({ layer: part }) => part);
  });
  if (inside.size === 0) return { shot: given, outside, inside };
  const after = { ...shot, layers };
  return {
    shot: shot.variants ? { ...after, variants: carriedVariants(after, copies) } : after,
    outside,
    inside,
  };
}

/** Where what is flipped comes to lie; placed after its range, the frame on which both meet is the last of the first. */
const placeOf = (range: FrameRange, append: boolean): FrameRange =>
  append ? { start: range.end + APART, end: 2 * range.end - range.start } : range;

/** The layers that are meant, repeated after the range as the motion is. */
function appended(
  shot: Shot,
  meant: (layer: Layer) => boolean,
  { start, end }: FrameRange,
  findings: Finding[],
): Shot {
  const ahead = Math.min(start, ...shot.layers.map(({ range }) => range?.start ?? start)) - 1;
  const pieces: TimePieces = [
    { from: ahead, to: end, old: { from: ahead, to: end } },
    { from: end, to: 2 * end - start, old: { from: start, to: end } },
  ];
  const length = end - start;
  const weight = (one: Curve) => {
    const again = [...one.times].filter((time) => inRange({ start, end }, time)).map((time) => time + length);
    const early = [...one.times].filter((time) => time <= end);
    const shown = shownBy(
      (frame) => evaluate(one, frame <= end ? frame : frame - length),
      [
        ...jumpsOfCurve(one, { start: early[0] ?? start, end }),
        end,
        ...jumpsOfCurve(one, { start, end }).map((frame) => frame + length),
      ],
    );
    return curveAlong(shown, rising(early, [start, end, end + length], again), NEAR_ENOUGH);
  };
  const going = {
    ...{ pieces, range: shot.range, weight, copies: new Map() as Going['copies'] },
    say: (one: Finding) => findings.push(one),
  };
  const layers = shot.layers.flatMap((layer) =>
    // What ends ahead of the range, or begins beyond it, is no part of what is repeated.
    meant(layer) && !isBlock(layer) ? throughTime(layersPart, [layer], going) : [layer],
  );
  const after = { ...shot, layers };
  return shot.variants ? { ...after, variants: carriedVariants(after, going.copies) } : after;
}

interface LayerPart {
  readonly layer: Layer;
  readonly inside: boolean;
}

/** A layer cut at the ends of what is flipped; none where it does not live there. @param taken layers whose ids are taken */
function partsOf(layer: Layer, place: FrameRange, shown: FrameRange, taken: readonly Layer[]): LayerPart[] {
  const lives = layer.range ?? { ...shown, rampIn: 0, rampOut: 0 };
  if (lives.start > place.end || lives.end < place.start) return [];
  const early = lives.start < place.start - 2 * APART;
  const late = lives.end > place.end + 2 * APART;
  // Keys of a pass that adds tell its sides apart themselves.
  if ((!early && !late) || (isKeyed(layer) && effectOf(layer) !== 'covers')) return [{ layer, inside: true }];
  const ids = new Set(taken.map(({ id }) => id));
  // What begins where the layer begins is a frame of its own from now on.
  const time = kindOf(layer)?.time;
  const same = { from: lives.start, to: lives.end, old: { from: lives.start, to: lives.end } };
  const settings =
    (time?.is === 'inPiece' ? time.inPiece(layer.settings, same, lives) : null) ?? layer.settings;
  // What a filter above reads of frames that nobody sees is covered as before.
  const far = layer.range === null && isKeyed(layer);
  const [first, last] = far ? [-LIMITS.frame, LIMITS.frame] : [lives.start, lives.end];
  const part = (range: LayerRange, inside: boolean): LayerPart => {
    // The first of them is the layer that there was.
    const id = range.start === first ? layer.id : freshId(ids, layer.id);
    return { layer: { ...layer, id, range, settings }, inside };
  };
  return [
    ...(early ? [part({ ...lives, start: first, end: place.start - APART, rampOut: 0 }, false)] : []),
    part(
      {
        start: early ? place.start : first,
        end: late ? place.end : last,
        rampIn: early ? 0 : lives.rampIn,
        rampOut: late ? 0 : lives.rampOut,
      },
      true,
    ),
    ...(late ? [part({ ...lives, start: place.end + APART, end: last, rampIn: 0 }, false)] : []),
  ];
}

/** `like-2`, `like-3` …: the first that is free; it is taken from then on. */
function freshId(ids: Set<string>, like: string): string {
  let number = 2;
  while (ids.has(`${like}-${number}`)) number += 1;
  ids.add(`${like}-${number}`);
  return `${like}-${number}`;
}

const partnersIn = ({ shot, nodes }: Pick<Flip, 'shot' | 'nodes'>) => {
  const pairs = new Map(shot.nodes.map(({ id, pair }) => [id, pair]));
  return (node: string) => (nodes.has(node) ? (pairs.get(node) ?? node) : node);
};

/** Whether a flip makes another of a layer that is no block. */
const changes = (layer: Layer, flip: Flip): boolean => !isBlock(layer) && flippedLayer(layer, flip) !== layer;

/** The layer over the partners of its members; itself where it is its own mirror image; null where it has none. */
function flippedLayer(layer: Layer, flip: Flip): Layer | null {
  const partnerOf = partnersIn(flip);
  const over = [...new Set(layer.members.map(partnerOf))];
  const members = isKeyed(layer) ? [...new Set([...layer.members, ...over])] : over;
  const channels =
    layer.channels?.map((one) => {
      if (!one.includes('.')) return one;
      const { node, name } = splitChannel(one);
      return `${partnerOf(node)}.${name}`;
    }) ?? null;
  const how = kindOf(layer)?.flip ?? 'asIs';
  const settings = how === 'asIs' ? layer.settings : how(layer.settings, partnerOf);
  if (settings === null) return null;
  const sameMembers =
    members.length === layer.members.length && members.every((one) => layer.members.includes(one));
  const sameRest = JSON.stringify([channels, settings]) === JSON.stringify([layer.channels, layer.settings]);
  return sameMembers && sameRest ? layer : { ...layer, members, channels, settings };
}

/** Said of a block's action after its name. */
export const FLIPPED = ' (flipped)';

/** A block shows its action flipped, where it lies in what is flipped as a whole and goes nowhere by itself; placed after, a copy of it does. */
function blockOver(
  layer: Placement,
  range: FrameRange,
  append: boolean,
  flip: Flip,
): { readonly layer: Layer; readonly shot: Shot } {
  const { shot, nodes, choice, say } = flip;
  const { range: lives, settings } = layer;
  if (lives.start > range.end || lives.end < range.start) return { layer, shot };
  const action = (shot.actions ?? []).find(({ id }) => id === settings.action);
  const whole = lives.start >= range.start - APART && lives.end <= range.end + APART;
  const travels = settings.carry !== null || (settings.goesOn && settings.repeats > 1);
  if (!action || !whole || travels || settings.course !== null || settings.crosses !== null) {
    say.blocks.push(layer.name);
    return { layer, shot };
  }
  const alone: Shot = { ...shot, curves: action.curves, layers: [], range: { start: 0, end: action.length } };
  const { curves } = flippedCurves(alone, null, nodes, new Set(), alone.range, 'always', choice);
  const partnerOf = partnersIn(flip);
  const members = [...new Set(layer.members.map(partnerOf))];
  // The other side at rest, which it does not count for.
  const shown = new Map([...curves].filter(([one]) => members.includes(splitChannel(one).node)));
  const flipped = {
    ...action,
    id: freshId(new Set((shot.actions ?? []).map(({ id }) => id)), action.id),
    name: `${action.name}${FLIPPED}`,
    ...(action.from && {
      from: {
        ...action.from,
        mapping: { ...action.from.mapping, flipped: !action.from.mapping.flipped },
      },
    }),
    curves: withCurves({ ...alone, curves: [] }, null, shown).curves,
  };
  const by = append ? range.end - range.start : 0;
  const id = append ? freshId(new Set(shot.layers.map((one) => one.id)), layer.id) : layer.id;
  return {
    layer: {
      ...layer,
      id,
      weight: later(layer.weight, isKeyedWeight(layer.weight) ? by : 0),
      range: { ...lives, start: lives.start + by, end: lives.end + by },
      members,
      settings: {
        ...settings,
        action: flipped.id,
        first: settings.first + by,
        roots: settings.roots.map(partnerOf),
        leaves: settings.leaves.map((one) => {
          const { node, name } = splitChannel(one);
          return `${partnerOf(node)}.${name}`;
        }),
      },
    },
    shot: { ...shot, actions: [...(shot.actions ?? []), flipped] },
  };
}
