/** How an action finds its way onto the joints of a shot: the options, and what is said of it. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import type { Work } from '../../base/work.ts';
import type { Action } from '../../document/action.ts';
import type { TransferredPair } from '../../mapping/transfer.ts';
import { mapAction } from '../../mapping/map-action.ts';
import type { Mapped } from '../../mapping/map-action.ts';
import { framesPerSecond } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import type { MappingChoice } from '../../layers/layer.ts';
import { flippedAction } from './flipped-action.ts';
import { pathKept } from './path-kept.ts';

export const mappingOptions = {
  match: z
    .enum(['names', 'both', 'structure'])
    .default('names')
    .meta({
      title: 'Match',
      labels: { names: 'by name', both: 'by name, then by structure', structure: 'by structure' },
      description: 'How its joints find those of this shot; by structure, names do not matter.',
    }),
  character: z.string().nullable().default(null).meta({
    title: 'Onto',
    description: 'The character’s id; left out, the one that its joints belong to, or the first.',
  }),
  heights: z.boolean().default(true).meta({
    title: 'Places by size',
    description:
      'Positions are scaled as the legs of the two figures are, and heights are kept above the ground.',
  }),
  times: z
    .number()
    .positive()
    .max(1000)
    .nullable()
    .default(null)
    .meta({
      title: 'Places times',
      when: { heights: true },
      description: 'What positions are multiplied by; left out, it is found from the two figures.',
    }),
  flipped: z.boolean().default(false).meta({
    title: 'Flipped',
    description: 'Left and right change places.',
  }),
  pairs: z.record(z.string(), z.string().nullable()).default({}).meta({
    title: 'Pairs',
    description: 'Its joints and those of this shot, or none, said by hand.',
  }),
};

/** Of motion, and not of a pose: it stands and goes somewhere. */
export const motionOptions = {
  feet: z.boolean().default(true).meta({
    title: 'Feet stay put',
    description:
      'From a figure of another build: feet that stood there stand here, soles on the floor, held by their goals or legs; hips give way.',
  }),
  path: z
    .enum(['mirrored', 'kept'])
    .default('mirrored')
    .meta({
      title: 'Its way',
      labels: { mirrored: 'mirrored too', kept: 'as it was' },
      when: { flipped: true },
      description: 'Whether its way over the ground is flipped too, or only the body on it.',
    }),
};

type PoseChoice = Omit<MappingChoice, 'feet' | 'path'> & Partial<Pick<MappingChoice, 'path'>>;

/** The action as the options map it; refuses a character that is not there. */
export function* mappedAction(
  shot: Shot,
  action: Action,
  { match, character, heights, times, flipped, path = 'mirrored', pairs }: PoseChoice,
): Work<Mapped> {
  if (character !== null && !shot.characters.some(({ id }) => id === character))
    refuse('unknownCharacter', {}, character);
  const scaled = heights && times !== null ? times : heights;
  const mapped = yield* mapAction(shot, action, { by: match, character, scaled, byHand: pairs });
  if (!flipped) return mapped;
  const { end } = action.range;
  const curves = flippedAction(shot, mapped.curves, end);
  const rate = framesPerSecond(action.json.rate);
  return { ...mapped, curves: path === 'kept' ? pathKept(shot, curves, mapped.curves, end, rate) : curves };
}

/** Bones that lie so many degrees apart at rest, or differ by this part of their length, are said. */
const [OTHER_REST, OTHER_LENGTH] = [0.1, 0.05];

export function mappingFindings({ pairs, along, left, size, unknown, doubtful, shared }: Mapped): Finding[] {
  const named = (some: readonly TransferredPair[]) => some.map(({ target }) => target);
  const found = pairs.filter(({ how }) => how !== 'name');
  const turned = pairs.filter((pair) => pair.turned > OTHER_REST);
  const longer = pairs.filter((pair) => Math.abs(pair.longer - 1) > OTHER_LENGTH);
  const words = found.map(({ source, target }) => `${source} → ${target}`);
  return [
    ...(unknown.length > 0 ? [finding('unknownInPairs', {}, unknown)] : []),
    ...(found.length > 0 ? [finding('foundByStructure', {}, words)] : []),
    ...(doubtful.length > 0
      ? [
          finding(
            'couldChangePlaces',
            {},
            doubtful.map((two) => two.join(' and ')),
          ),
        ]
      : []),
    ...(shared ? [finding('bendShared', {}, shared.ours, shared.theirs)] : []),
    ...(turned.length > 0 ? [finding('otherRest', {}, named(turned))] : []),
    ...(longer.length > 0 ? [finding('otherLength', {}, named(longer))] : []),
    ...(along.length > 0 ? [finding('carriedAlong', {}, along)] : []),
    ...(left.length > 0 ? [finding('leftToTheirs', {}, left)] : []),
    ...(Math.abs(size - 1) > 1e-6 ? [finding('placesScaled', {}, size)] : []),
  ];
}
