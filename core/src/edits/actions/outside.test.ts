/** Laying an action, or a clip, changes nothing outside its range, and what is laid is what was saved: on every whole frame, over any curve, on the base and on a pass. */
import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { SEGMENT } from '../../curve/curve.ts';
import { evaluate } from '../../curve/evaluate.ts';
import { repeats } from '../../curve/lead.ts';
import { curveToJson } from '../../document/parts/curve-json.ts';
import { ACTION_VERSION } from '../../document/action.ts';
import { curveOf } from '../../document/shot.ts';
import { later } from '../../curve/later.ts';
import { anyCurve } from '../../testing/arbitrary-curves.ts';
import { choose, curve, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const LENGTH = 9;
const action = (curves: object) => ({
  format: 'kneader-action',
  version: ACTION_VERSION,
  name: 'One',
  tags: [],
  notes: '',
  source: '',
  roots: [],
  rate: { numerator: 24, denominator: 1 },
  length: LENGTH,
  curves,
});
/** A curve that begins on 0. */
const part = anyCurve({ fewest: 2, most: 5 }).map((one) => later(one, -one.times[0]!));
const leads = fc.constantFrom(
  'hold' as const,
  'slope' as const,
  'loop' as const,
  'loopCarry' as const,
  'swing' as const,
);

test('applied over any curve, with any leads', () => {
  let [covered, opened] = [0, 0];
  fc.assert(
    fc.property(
      fc.oneof(anyCurve({ fewest: 1, weighted: true }), anyCurve({ whole: true })),
      part,
      fc.integer({ min: 0, max: 30 }),
      leads,
      leads,
      (base, laid, frame, leadIn, leadOut) => {
        const shot = puppet({ 'arm_l.rz': { ...base, leadIn, leadOut } });
        const [first, last] = [base.times[0]!, base.times[base.times.length - 1]!];
        // A repeat as short as that asks for more keys than anybody wants; a jump a rounding away from a frame may lie on either side of it.
        const jumps = base.segments.includes(SEGMENT.stepped) && !base.times.every(Number.isInteger);
        for (const lead of [leadIn, leadOut]) fc.pre(!repeats(lead) || (last - first > 1 && !jumps));
        const { shot: after, report } = runEdit('actions.apply', shot, choose({}), {
          action: action({ 'arm_l.rz': curveToJson(laid), 'arm_r.rx': curveToJson(laid) }),
          frame,
        });
        expect([report.status, report.findings.filter(() => report.status === 'refused')]).toEqual([
          'changed',
          [],
        ]);
        for (const id of ['arm_l.rz', 'arm_r.rx']) {
          const [was, is] = [curveOf(shot, null, id), curveOf(after, null, id)];
          for (let at = 0; at <= shot.range.end; at += 1) {
            const inside = at >= frame && at <= frame + LENGTH;
            const wanted = inside ? evaluate(laid, at - frame) : evaluate(was, at);
            expect([id, at, evaluate(is, at)]).toEqual([id, at, expect.closeTo(wanted, 6)]);
            if (inside) covered += 1;
            else opened += 1;
          }
        }
      },
    ),
    { numRuns: 150 },
  );
  expect(Math.min(covered, opened)).toBeGreaterThan(500);
});

test('on an offset pass it is nothing outside; on a pass that covers, a channel that it opens is named', () => {
  const laid = curve([0, 4, 9, 7]);
  const given = { action: action({ 'arm_l.rz': curveToJson(laid) }), frame: 8 };
  for (const kind of ['offset', 'replace']) {
    const shot = {
      ...puppet({ 'arm_l.rz': curve([0, 3, 24, 9]) }),
      layers: [pass('p', { kind, members: ['arm_l'] })],
    };
    const { shot: after, report } = runEdit('actions.apply', shot, choose({ layer: 'p' }), given);
    const said = report.findings.some(({ code }) => code === 'coversBeyond');
    expect([kind, said]).toEqual([kind, kind === 'replace']);
    if (kind === 'offset')
      expect([0, 7, 18, 24].map((frame) => evaluate(curveOf(after, 'p', 'arm_l.rz'), frame))).toEqual([
        0, 0, 0, 0,
      ]);
  }
});

test('a clip that is inserted or laid in keeps its ends, whatever lies a frame away; merged it keeps the slopes of its keys', () => {
  fc.assert(
    fc.property(
      anyCurve({ whole: true, fewest: 3 }),
      part,
      fc.integer({ min: 2, max: 20 }),
      (base, given, frame) => {
        const length = given.times[given.times.length - 1]!;
        const clip = {
          format: 'kneader-keys',
          version: 1,
          start: 0,
          length,
          whole: false,
          curves: { 'arm_l.rz': curveToJson(given) },
        };
        const shot = puppet({ 'arm_l.rz': base });
        const laid = (mode: string) =>
          curveOf(runEdit('keys.paste', shot, choose({}), { clip, frame, mode }).shot, null, 'arm_l.rz');
        for (const mode of ['insert', 'replace'])
          for (let at = 0; at <= length; at += 0.4)
            expect([mode, at, evaluate(laid(mode), frame + at)]).toEqual([
              mode,
              at,
              expect.closeTo(evaluate(given, at), 6),
            ]);
        const merged = laid('merge');
        const between = merged.times.findIndex((time) => Math.abs(time - frame) < 1e-9);
        if (base.times.some((time) => time >= frame && time <= frame + length))
          expect(merged.slopesOut[between]).toBeCloseTo(given.slopesOut[0]!, 6);
      },
    ),
    { numRuns: 100 },
  );
});
