/**
 * What comes of seeded curves under every operation on curves, key by key. See `testing/approved.ts`: such a line is no proof, it
 * tells that something is another than it was.
 */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seededRandom } from '../base/random.ts';
import { timePutIn, timeTakenOut, timeThrough } from '../base/time-map.ts';
import { anyCurve } from '../testing/arbitrary-curves.ts';
import { approvedLines, short } from '../testing/approved.ts';
import { PLAIN_THINNING } from '../testing/plain-thinning.ts';
import { curve, denseCurve } from '../testing/shot-literals.ts';
import { addedTo } from './add.ts';
import { bakeLeads } from './bake-lead.ts';
import { curveThroughTime } from './curve-through-time.ts';
import { FLAG, LEADS } from './curve.ts';
import type { Curve } from './curve.ts';
import { differenceOf } from './difference.ts';
import { evaluate, sampleInto, slopeAt } from './evaluate.ts';
import { joinedParts } from './joined-parts.ts';
import { edgeSlope, isRepeated, placeOfKey } from './lead.ts';
import { partOf } from './part.ts';
import { allRows, rebuild } from './rebuild.ts';
import { withoutRedundant } from './redundant.ts';
import { replacedWithin } from './replaced-within.ts';
import { retangent } from './retangent.ts';
import { retimeCurve } from './retime-keys.ts';
import { reverseRange } from './reverse.ts';
import { closeSeam, seamGap } from './seam.ts';
import { butterworth, filterBothWays, savitzkyGolay, withoutSpikes } from './smooth.ts';
import { addKeysKeepingShape } from './split.ts';
import { thinCurve } from './thin.ts';
import type { ThinOptions } from './thin.ts';
import { transformKeys } from './transform.ts';
import { warpOf } from './warp.ts';
import { keyPlace, withKey, withValueAt } from './with-key.ts';
import { withoutKeys } from './without-keys.ts';

const KINDS = ['free', 'flat', 'linear', 'smooth', 'steady'];
const SEGMENTS = ['stepped', 'linear', 'cubic'];

/** A key as `time:value`, its slopes and lengths, and what it is. */
function keyLine(of: Curve, row: number): string {
  const numbers = [of.slopesIn, of.slopesOut, of.lengthsIn, of.lengthsOut].map((column) =>
    short(column[row]!),
  );
  const kinds = `${KINDS[of.tangentsIn[row]!]}/${KINDS[of.tangentsOut[row]!]}`;
  return `${short(of.times[row]!)}:${short(of.values[row]!)} (${numbers.join(' ')} ${kinds} ${SEGMENTS[of.segments[row]!]} ${of.flags[row]})`;
}
const leadsOf = (of: Curve) => `${of.leadIn}×${of.leadInCount} ${of.leadOut}×${of.leadOutCount}`;
const written = (of: Curve) =>
  `${leadsOf(of)}: ${allRows(of)
    .map((row) => keyLine(of, row))
    .join(' ')}`;

/** Hand-made curves, some whole, some between frames, with every lead; the third and the last of each lot have a locked key. */
const made = (['whole', 'between'] as const).flatMap((lot) =>
  fc
    .sample(anyCurve({ weighted: true, whole: lot === 'whole', fewest: 3 }), { seed: 77, numRuns: 5 })
    .map((one, i): readonly [string, Curve] => {
      const led: Curve = {
        ...one,
        leadIn: LEADS[i]!,
        leadOut: LEADS[(i + 2) % LEADS.length]!,
        leadInCount: i % 3,
        leadOutCount: (i + 1) % 3,
      };
      const locked = i % 2 === 0 && i > 0;
      return [
        `${lot} ${i + 1}`,
        locked ? rebuild(led, null, (columns) => (columns.flags[1]! |= FLAG.locked)) : led,
      ];
    }),
);

const shown = { start: -2, end: 60 };
const placeWords = ({ curve: on, ...place }: ReturnType<typeof keyPlace>) =>
  `${JSON.stringify(place, (_, value: unknown) => (typeof value === 'number' ? Number(short(value)) : value))} on ${on.times.length} keys`;
const chosenOf = (of: Curve) => Uint8Array.from(of.times, (_, row) => (row % 3 === 1 ? 0 : 1));
const thin = (more: Partial<ThinOptions>): ThinOptions => ({ ...PLAIN_THINNING, ...more });

const OPERATIONS: Readonly<Record<string, (of: Curve) => Curve | string>> = {
  'as it is': (of) => of,
  'values and slopes': (of) =>
    [-23, -4.5, 0.3, 6, 11.7, 40, 95]
      .map((t) => `${short(evaluate(of, t))} ↗ ${short(slopeAt(of, t))}`)
      .join(' '),
  places: (of) =>
    [-23, 0.3, of.times[1]! + 40, 95]
      .map((t) => `${placeOfKey(of, t) ?? '–'} ${isRepeated(of, t)}`)
      .join(' ') + ` ${short(edgeSlope(of, true))} ${short(edgeSlope(of, false))}`,
  'baked leads': (of) => bakeLeads(of, -17.5, 71),
  added: (of) => addedTo(of, partOf(of, { start: 2, end: 9 }), 4.5, 1.5),
  'a part': (of) => partOf(of, { start: 3.5, end: 14 }),
  'keys added': (of) => addKeysKeepingShape(of, [-6, 1.25, 7, 8, 33]),
  'time put in': (of) => curveThroughTime(of, timePutIn(6.5, 5)).curve,
  'time put in, drifting': (of) =>
    curveThroughTime(of, timePutIn(6.5, 5), { drift: 0.3, wholeFrames: true }).curve,
  'time taken out': (of) => curveThroughTime(of, timeTakenOut({ start: 4.5, end: 11 })).curve,
  'bent through': (of) => curveThroughTime(of, timeThrough([0, 8, 20], [0, 13, 18]), { rules: true }).curve,
  retimed: (of) => retimeCurve(of, (time) => 2 * time + (time > 9 ? 3 : 0)).curve,
  'reversed within': (of) => reverseRange(of, 2.5, 13),
  'reversed whole': (of) => reverseRange(of, of.times[0]!, of.times.at(-1)!),
  smoothest: (of) => retangent(of, chosenOf(of), 'smoothest', 0.5),
  steady: (of) => retangent(of, chosenOf(of), 'steady', 0.5),
  fit: (of) => retangent(of, chosenOf(of), 'fit', 0.5),
  eased: (of) => retangent(of, chosenOf(of), 'ease', 0.8),
  'without redundant': (of) => withoutRedundant(of, (row) => row % 2 === 1),
  'without two keys': (of) => withoutKeys(of, [1, 2]),
  'without all but the first': (of) => withoutKeys(of, allRows(of).slice(1)),
  'a value set': (of) => withValueAt(of, 6.25, 12, 'cycle', shown).curve,
  'a value set on a repeat': (of) => withValueAt(of, 41, 12, 'cycle', shown).curve,
  'a value set, repeats baked': (of) => withValueAt(of, 41, 12, 'bake', shown).curve,
  'places of keys': (of) =>
    ([-21, 6, 41] as const).map((t) => placeWords(keyPlace(of, t, 'cycle', shown))).join(' '),
  transformed: (of) =>
    transformKeys(of, [0, 1], {
      timeScale: -1.5,
      timePivot: 5,
      timeMove: 2,
      valuePivot: 3,
      valueMove: -4,
      valueScaleStart: 2,
      valueScaleEnd: 0.25,
      boxStart: of.times[0]!,
      boxEnd: of.times[1]!,
      wholeFrames: true,
    }).curve,
  'seam closed': (of) => {
    const end = of.times.at(-1)!;
    return closeSeam(of, of.times[0]!, end, 4, 'middle', false);
  },
  'seam closed by the first, carrying': (of) =>
    closeSeam(of, of.times[0]!, of.times.at(-1)!, 0, 'first', true),
  'seam gap': (of) => {
    const { value, slope } = seamGap(of, of.times[0]!, of.times.at(-1)!);
    return `${short(value)} ${short(slope)}`;
  },
  'joined parts': (of) =>
    joinedParts(of, [partOf(of, { start: 0, end: 6 }), partOf(of, { start: 6, end: 15 })]),
  'replaced within': (of) =>
    replacedWithin(of, { start: 3, end: 11 }, shown, (part) =>
      rebuild(part, null, (columns) => columns.values.forEach((value, i) => (columns.values[i] = value / 2))),
    ),
  'away from the next': (of) => {
    const { greatest, frame, rms } = differenceOf(of, retangent(of, chosenOf(of), 'steady', 0.5), {
      start: -9,
      end: 50,
    });
    return `${short(greatest)} at ${short(frame)}, ${short(rms)}`;
  },
  sampled: (of) => {
    const times = Float64Array.of(-40, -0.5, 2, 5.5, 9, 9.5, 30, 77);
    const out = new Float64Array(8);
    sampleInto(out, 0, 1, of, times);
    return Array.from(out, short).join(' ');
  },
  'without the first': (of) => withoutKeys(of, [0]),
  'without the second': (of) => withoutKeys(of, [1]),
  'without the last': (of) => withoutKeys(of, [of.times.length - 1]),
  'seam closed by the last': (of) => closeSeam(of, of.times[0]!, of.times.at(-1)!, 3, 'last', true),
  'a key before all': (of) => withKey(of, of.times[0]! - 3, 5),
  'a key past all': (of) => withKey(of, of.times.at(-1)! + 3, 5),
  'fit whole': (of) => retangent(of, new Uint8Array(of.times.length).fill(1), 'fit', 0.5),
  thinned: (of) => thinCurve(of, thin({ tolerance: 3 })),
  'thinned, corners': (of) =>
    thinCurve(of, thin({ tolerance: 3, joined: false, keepPeaks: true, wholeFrames: false })),
  'thinned, free handles': (of) => thinCurve(of, thin({ tolerance: 3, weighted: true, keepFrames: [7, 12] })),
};

const swing = (seed: number, jitter: number) => {
  const random = seededRandom(seed);
  return Array.from(
    { length: 90 },
    (_, i) => 30 * Math.sin(i / 13 + seed) + 9 * Math.sin(i / 5) + jitter * random.gaussian(),
  );
};
const source = curve([0, 0, 9, 22, 14, 20, 31, -15, 44, 8], 'steady');
const DENSE: readonly (readonly [string, Curve])[] = [
  ['a swing', denseCurve(swing(1, 0))],
  ['a swing with jitter', denseCurve(swing(2, 0.3))],
  ['every other half frame', denseCurve(swing(3, 0.1), 1.5)],
  ['baked from five keys', denseCurve(Array.from({ length: 45 }, (_, frame) => evaluate(source, frame)))],
  [
    'hold, move, hold',
    denseCurve(Array.from({ length: 50 }, (_, i) => 40 * Math.min(1, Math.max(0, (i - 18) / 9)))),
  ],
  [
    'eased, free handles',
    retangent(curve([0, 0, 10, 40, 21, -17, 36, 12, 50, 12]), new Uint8Array(5).fill(1), 'ease', 0.9),
  ],
];
const DENSE_OPERATIONS: Readonly<Record<string, (of: Curve) => Curve>> = {
  'without every third': (of) =>
    withoutKeys(
      of,
      allRows(of).filter((row) => row % 3 === 1),
    ),
  'reversed from 20 to 40': (of) => reverseRange(of, 20, 40),
  'its seam closed': (of) => closeSeam(of, of.times[0]!, of.times.at(-1)!, 6, 'middle', false),
  'its seam closed, carrying': (of) => closeSeam(of, of.times[0]!, of.times.at(-1)!, 5, 'first', true),
  'time taken out of it': (of) => curveThroughTime(of, timeTakenOut({ start: 10.5, end: 20 })).curve,
  'repeats baked': (of) =>
    bakeLeads({ ...of, leadIn: 'swing', leadOut: 'loopCarry', leadOutCount: 1 }, -9, 130),
};
const SETTINGS: Readonly<Record<string, Partial<ThinOptions>>> = {
  fine: { tolerance: 0.1 },
  coarse: { tolerance: 2, keepPeaks: true },
  corners: { joined: false },
  'corners, peaks': { joined: false, keepPeaks: true, keepFrames: [11, 40] },
  free: { weighted: true },
  'free, fine, peaks': { weighted: true, tolerance: 0.15, keepPeaks: true },
  'free corners': { weighted: true, joined: false, tolerance: 1 },
  'a part': { takesPart: (row) => row > 10 && row < 60, wholeFrames: false },
};

const signal = Float64Array.from(swing(5, 2));
const SIGNALS: Readonly<Record<string, () => Float64Array | number[]>> = {
  'Savitzky–Golay': () => savitzkyGolay(signal, 3),
  'low-passed': () => filterBothWays(signal, butterworth(4, 24)),
  'without spikes': () => withoutSpikes(signal, 3, 2, 0.5).values,
  'where spikes were': () => withoutSpikes(signal, 3, 2, 0.5).spikes,
  warped: () =>
    [-3, 0, 4, 10, 15, 22, 31].map(
      warpOf([
        [0, 0],
        [10, 16],
        [22, 20],
      ]),
    ),
};

/** The lines of each operation, by its name. */
const GROUPS: ReadonlyMap<string, () => readonly string[]> = new Map([
  ...Object.entries(OPERATIONS).map(
    ([name, operate]) =>
      [
        name,
        () =>
          made.map(([of, one]) => {
            const result = operate(one);
            return `${name}, ${of}: ${typeof result === 'string' ? result : written(result)}`;
          }),
      ] as const,
  ),
  ...Object.entries(DENSE_OPERATIONS).map(
    ([name, operate]) =>
      [name, () => DENSE.map(([of, one]) => `${name}, ${of}: ${written(operate(one))}`)] as const,
  ),
  ...Object.entries(SETTINGS).map(
    ([name, options]) =>
      [
        `thinned ${name}`,
        () =>
          DENSE.map(([of, one]) => {
            const after = thinCurve(one, thin(options));
            return `thinned ${name}, ${of}: ${after.times.length} keys, ${written(after)}`;
          }),
      ] as const,
  ),
  ...Object.entries(SIGNALS).map(
    ([name, make]) => [name, () => [`${name}: ${Array.from(make(), short).join(' ')}`]] as const,
  ),
]);

const approved = approvedLines('approved-curves', () => [...GROUPS.values()].flatMap((lines) => lines()));
/** Where the lines of a group begin in the file. */
const startOf = new Map<string, number>();
let next = 0;
for (const [name] of GROUPS) {
  startOf.set(name, next);
  next += name in OPERATIONS ? made.length : name in SIGNALS ? 1 : DENSE.length;
}

test.each([...GROUPS.keys()])('%s comes out as approved', (name) => {
  const now = GROUPS.get(name)!();
  expect(now).toEqual(approved.slice(startOf.get(name), startOf.get(name)! + now.length));
});

test('there are no other lines', () => expect(approved.length).toBe(next));
