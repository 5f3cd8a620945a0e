/** Laying, turning and baking live filters, and posing under them. */
import { describe, expect, test } from '@jest/globals';
import { DEMO_SHOTS } from '../../demo/bakery.ts';
import { seededRandom } from '../../base/random.ts';
import { LAYER_KINDS } from '../../layers/kinds.ts';
import type { Layer } from '../../layers/layer.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { stackOf, valuesAt } from '../../evaluation/evaluation.ts';
import { withVariant } from '../../document/variants.ts';
import { curveOf, rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { choose, curve, denseCurve, filter, keysOf, pass, puppet } from '../../testing/shot-literals.ts';
import { writePose } from '../poses/write-pose.ts';
import { runEdit } from '../run-edit.ts';

const base = puppet({
  'hips.ty': curve([0, 0, 6, 12, 13, -4, 24, 8]),
  'arm_l.rz': curve([0, 10, 12, 30, 24, 0]),
});
const at = (shot: Shot, frame: number, id = 'hips.ty') =>
  valuesAt(shot, frame)[rigOf(shot).channelIndex(id)]!;
const hips = choose({ nodes: ['hips'] });
const run = (shot: Shot, id: string, options: object, selection = hips) =>
  runEdit(id, shot, selection, options);
const codes = (result: ReturnType<typeof run>) => result.report.findings.map(({ code }) => code);

describe('a filter', () => {
  test('is laid over what is chosen; the keys stay, and removing it gives back what was there', () => {
    const added = run(base, 'filters.add', { kind: 'spring' }).shot;
    expect(added.curves).toBe(base.curves);
    expect(at(added, 8)).not.toBe(at(base, 8));
    const gone = run(added, 'filters.remove', { filter: added.layers[0]!.id }).shot;
    expect(gone.curves).toBe(base.curves);
    expect(stackOf(gone).top).toEqual(stackOf(base).top);
  });

  test('takes only the chosen channels when asked', () => {
    const both = {
      ...base,
      curves: [{ ...base.curves[0], tx: curve([0, 0, 24, 9]) }, ...base.curves.slice(1)],
    };
    const { shot } = run(
      both,
      'filters.add',
      { kind: 'shift', channels: 'chosen' },
      choose({ channels: ['hips.ty'] }),
    );
    expect(at(shot, 8, 'hips.tx')).toBe(at(both, 8, 'hips.tx'));
    expect(at(shot, 8)).toBe(at(both, 6));
  });

  test('says when there is nothing to filter, and refuses what it cannot do', () => {
    expect(codes(run(base, 'filters.add', {}, choose({ nodes: ['hand_r'] })))).toEqual(['nothingFiltered']);
    expect(codes(run(base, 'filters.add', {}, choose({})))).toEqual(['nothingSelected']);
    expect(codes(run(base, 'filters.add', { settings: { frequency: NaN } }))).toEqual(['badOption']);
    expect(codes(run(base, 'filters.add', { settings: { frequency: 0 } }))).toEqual(['badOption']);
    expect(codes(run(base, 'filters.add', { settings: { frequency: 12.5 } }))).toEqual(['aboveNyquist']);
    expect(codes(run(base, 'filters.add', { settings: { stiffness: 3 } }))).toEqual(['badOption']);
    expect(codes(run(base, 'filters.add', { kind: 'step', settings: { like: 'hand_r' } }))).toEqual([
      'noKeysToFollow',
    ]);
    expect(codes(run(base, 'filters.add', { bookends: { start: 9, end: 2 } }))).toEqual(['badRange']);
  });

  test('is turned, confined, muted, and its strength keyed', () => {
    const shot = { ...base, layers: [filter('shift', ['hips'], { frames: 4 })] };
    expect(at(run(shot, 'filters.set', { filter: 'shift', settings: { frames: 1 } }).shot, 9)).toBe(
      at(base, 8),
    );
    expect(at(run(shot, 'filters.set', { filter: 'shift', muted: true }).shot, 9)).toBe(at(base, 9));
    const confined = run(shot, 'filters.set', {
      filter: 'shift',
      range: { start: 10, end: 20, rampIn: 0, rampOut: 0 },
    }).shot;
    expect([at(confined, 9), at(confined, 10)]).toEqual([at(base, 9), at(base, 6)]);
    const keyed = [0, 24].reduce(
      (so, frame) => run(so, 'filters.setStrength', { filter: 'shift', strength: frame / 24, frame }).shot,
      run(shot, 'filters.setStrength', { filter: 'shift', strength: 0 }).shot,
    );
    expect([at(keyed, 0), at(keyed, 24)]).toEqual([at(base, 0), at(base, 20)]);
    const locked = { ...base, layers: [{ ...shot.layers[0]!, locked: true }] };
    expect(codes(run(locked, 'filters.set', { filter: 'shift', settings: { frames: 1 } }))).toEqual([
      'lockedPass',
    ]);
    expect(run(locked, 'filters.set', { filter: 'shift', locked: false }).shot.layers[0]!.locked).toBe(false);
  });

  test('of those that move time eight lie over one control, and no ninth, by whatever way', () => {
    const eight = Array.from({ length: 8 }, (_, i) =>
      filter(i % 2 ? 'shift' : 'stretch', ['hips'], {}, { id: `${i}`, weight: curve([0, 0.5]) }),
    );
    const full = { ...base, layers: eight };
    expect(Number.isFinite(at(full, 8.3))).toBe(true);
    expect(codes(run(full, 'filters.add', { kind: 'shift' }))).toEqual(['tooManyTimeFilters']);
    expect(run(full, 'filters.add', { kind: 'wobble' }).report.status).toBe('changed');
    const beside = { ...base, layers: [...eight, filter('shift', ['arm_l'])] };
    expect(codes(run(beside, 'filters.members', { filter: 'shift' }))).toEqual(['tooManyTimeFilters']);
    const nine = { ...base, layers: [...eight, filter('shift', ['hips'], {}, { id: 'ninth' })] };
    expect(() => readShotFile(writeShotFile(nine))).toThrow(/more than 8 filters move time over “hips”/);
  });

  test('two hundred of them are laid and shown, at half strength and smoothed too, in no more work than there are of them', () => {
    const half = { weight: curve([0, 0.5]) };
    const mixed = ['wobble', 'smooth', 'spring', 'step'].flatMap((kind, k) =>
      Array.from({ length: 10 }, (_, i) => filter(kind, ['hips'], {}, { ...half, id: `${kind} ${k} ${i}` })),
    );
    expect(Number.isFinite(at({ ...base, layers: mixed }, 8.5))).toBe(true);
    const many = {
      ...base,
      layers: Array.from({ length: 200 }, (_, i) => filter('wobble', ['hips'], { seed: i }, { id: `w${i}` })),
    };
    expect(Number.isFinite(at(many, 8.5))).toBe(true);
  });
});

describe('on twos', () => {
  const tray = DEMO_SHOTS.find(({ id }) => id === 'first-tray')!.make();
  const bram = tray.nodes.filter(({ character }) => character !== null).map(({ id }) => id);

  test('the tray that is left out is pointed out, and added at once', () => {
    const spline = runEdit('timing.toSpline', tray, choose({}), {}).shot;
    const laid = run(spline, 'filters.add', { kind: 'step' }, choose({ nodes: bram }));
    expect(laid.report.findings.map(({ sentence }) => sentence).join(' ')).toMatch(
      /sliding while the rest holds: tray/,
    );
    const id = laid.shot.layers[0]!.id;
    const { shot, report } = run(laid.shot, 'filters.members', { filter: id, change: 'addLeftOut' });
    expect(shot.layers[0]!.members).toContain('tray');
    expect(report.findings).toEqual([]);
    expect(at(shot, 31, 'tray.tx')).toBe(at(spline, 30, 'tray.tx'));
  });
});

describe('baked', () => {
  test('over bare keys the base shows the same, and the filter is gone', () => {
    const shot = { ...base, layers: [filter('spring', ['hips'], { frequency: 2 })] };
    const { shot: after, report } = run(shot, 'filters.bake', { filter: 'spring', keys: 'every' });
    expect(after.layers).toEqual([]);
    for (const frame of [0, 3, 11, 24]) expect(at(after, frame)).toBeCloseTo(at(shot, frame), 9);
    expect(report.findings.map(({ sentence }) => sentence)).toEqual([
      '4 keys were replaced by those that show the same.',
    ]);
    expect(after.curves[1]).toBe(base.curves[1]);
  });

  test('over a pass it goes to a replace pass in its place; what lies below stays', () => {
    const lift = pass('lift', { members: ['hips'], curves: [{ ty: curve([3, 5, 15, -2]) }] });
    const shot = { ...base, layers: [lift, filter('smooth', ['hips'], { width: 3 }), pass('top')] };
    const { shot: after } = run(shot, 'filters.bake', { filter: 'smooth', space: 1 });
    expect(after.layers.map(({ kind }) => kind)).toEqual(['offset', 'replace', 'offset']);
    expect([after.curves, after.layers[0]]).toEqual([shot.curves, lift]);
    for (let fifth = 0; fifth <= 120; fifth += 1)
      expect(Math.abs(at(after, fifth / 5) - at(shot, fifth / 5))).toBeLessThanOrEqual(0.1);
  });

  test('on twos it becomes steps, as few as there are drawings', () => {
    const shot = { ...base, layers: [filter('step', ['hips'], { pattern: [4] })] };
    const { shot: after } = run(shot, 'filters.bake', { filter: 'step' });
    for (const frame of [0, 3, 4, 7, 8, 23]) expect(at(after, frame)).toBeCloseTo(at(shot, frame), 6);
    expect(curveOf(after, null, 'hips.ty').times.length).toBeLessThanOrEqual(25);
  });

  test('muted, or while anything is solo, it is not baked: what shows is not what will', () => {
    const twos = filter('step', ['hips']);
    const bake = (...layers: Layer[]) => codes(run({ ...base, layers }, 'filters.bake', { filter: 'step' }));
    expect(bake({ ...twos, muted: true })).toEqual(['mutedFilter']);
    expect(bake({ ...twos, solo: true })).toEqual(['soloFirst']);
    expect(bake(twos, pass('p', { solo: true }))).toEqual(['soloFirst']);
  });

  test('one baked and the others removed, the keys of the others are what they were', () => {
    const shot = { ...base, layers: [filter('shift', ['hips']), filter('spring', ['arm_l'])] };
    const baked = run(shot, 'filters.bake', { filter: 'shift' }).shot;
    const { shot: after } = run(baked, 'filters.remove', { filter: 'spring' });
    expect(after.curves[1]).toBe(base.curves[1]);
  });
});

describe('posing under filters', () => {
  const pose = (shot: Shot, frame: number, value: number) =>
    writePose(shot, null, new Map([['hips.ty', value]]), frame);

  test('under a shift the key lands where the value is seen', () => {
    const shot = { ...base, layers: [filter('shift', ['hips'], { frames: 2 })] };
    const { shot: after } = pose(shot, 10, 40);
    expect(at(after, 10)).toBeCloseTo(40, 9);
    expect(keysOf(curveOf(after, null, 'hips.ty'))).toContain('8:40');
  });

  test('under a step it lands on the drawing, under a wobble it makes up for it', () => {
    for (const layer of [
      filter('step', ['hips'], { pattern: [3] }),
      filter('wobble', ['hips']),
      filter('stretch', ['hips'], { factor: 1.5 }),
    ]) {
      const shot = { ...base, layers: [layer] };
      expect(at(pose(shot, 10, 40).shot, 10)).toBeCloseTo(40, 9);
    }
  });

  test('under what has a memory it is worked out and said; where no key there shows, it is refused, and the layer named', () => {
    for (const [kind, settings] of [
      ['spring', {}],
      ['smooth', {}],
      ['spring', { frequency: 0.02 }],
    ] as const) {
      const shot = { ...base, layers: [filter(kind, ['hips'], settings)] };
      const { findings, shot: after } = pose(shot, 10, 40);
      const weak = 'frequency' in settings;
      expect([kind, after === shot]).toEqual([kind, weak]);
      expect(findings[0]!.sentence).toMatch(
        weak ? new RegExp(`“${kind}” depends on other frames.*hips\\.ty`) : /frame 10.*hips\.ty/,
      );
      if (!weak) expect(valuesAt(after, 10)[rigOf(after).channelIndex('hips.ty')]).toBeCloseTo(40, 6);
    }
  });

  test('through stacks of 40 layers what was asked shows, or the layer that stands in the way is named', () => {
    const kinds = LAYER_KINDS.map(({ kind }) => kind).filter(
      (kind) => kind !== 'spring' && kind !== 'smooth',
    );
    let [shown, refused] = [0, 0];
    for (let seed = 1; seed <= 40; seed += 1) {
      const random = seededRandom(seed);
      const any = () =>
        curve([2, 20 * random.next() - 10, 9, 20 * random.next() - 10, 19, 20 * random.next() - 10]);
      const layers = Array.from({ length: 40 }, (_, i) => {
        const kind = kinds[random.whole(0, kinds.length - 1)]!;
        const more = {
          id: `${kind} ${i}`,
          muted: random.next() < 0.2,
          weight: curve([0, random.next() < 0.8 ? 1 : random.next()]),
          range: random.next() < 0.3 ? { start: 4, end: 21, rampIn: 3, rampOut: 2 } : null,
        };
        if (kind === 'offset' || kind === 'replace')
          return pass(more.id, {
            ...more,
            kind,
            members: ['hips'],
            weight: kind === 'replace' ? curve([0, 0.5 * random.next()]) : more.weight,
            rotations: random.next() < 0.3 ? 'orientations' : 'channels',
            curves: [{ ty: any(), rx: any(), ry: any() }],
          });
        const settings =
          kind === 'shift'
            ? { frames: random.whole(-2, 2) }
            : kind === 'stretch'
              ? { factor: 0.9 + 0.2 * random.next() }
              : kind === 'placement'
                ? { action: 'one', first: random.whole(0, 9), to: 8, repeats: random.whole(1, 3) }
                : {};
        return filter(kind, ['hips'], settings, {
          ...more,
          ...(kind === 'placement' && { weight: curve([0, 0.5 * random.next()]) }),
        });
      });
      const table = [{ ty: any(), rx: any(), ry: any(), rz: any() }, ...base.curves.slice(1)];
      const one = { id: 'one', name: 'One', length: 8, curves: [{ ty: any(), rx: any() }] };
      const shot = { ...base, curves: table, layers, actions: [one] };
      const frame = random.whole(1, 23);
      const channel = ['hips.ty', 'hips.rx'][random.whole(0, 1)]!;
      const wanted = 15 * random.next();
      const open = layers
        .filter(({ kind, muted, range }) => kind === 'offset' && !muted && range === null)
        .map(({ id }) => id);
      const on = random.next() < 0.5 ? null : (open[random.whole(0, open.length - 1)] ?? null);
      const { shot: after, findings } = writePose(shot, on, new Map([[channel, wanted]]), frame);
      if (findings.every(({ code }) => code === 'keyedThrough')) {
        shown += 1;
        expect(Math.abs(at(after, frame, channel) - wanted)).toBeLessThan(1e-6);
      } else {
        refused += 1;
        expect(findings[0]!.sentence).toMatch(/“.+”|pass/);
      }
    }
    expect(shown).toBeGreaterThan(6);
    expect(refused).toBeGreaterThan(0);
  });
});

test('a spring over an angle that leaps from 179° to −179° is laid, and the leap is named', () => {
  const wrapped = puppet({
    'hips.rz': denseCurve([170, 175, 179, -179, -175, -170]),
    'hips.rx': curve([0, 0, 5, 30]),
  });
  const { report } = runEdit('filters.add', wrapped, choose({ nodes: ['hips'] }), { kind: 'spring' });
  expect(report.findings.find(({ code }) => code === 'wrapsUnder')?.sentence).toContain('hips.rz');
  const smooth = runEdit('clean.unwrap', wrapped, choose({ nodes: ['hips'] }), {}).shot;
  const after = runEdit('filters.add', smooth, choose({ nodes: ['hips'] }), { kind: 'spring' });
  expect(after.report.findings.map(({ code }) => code)).not.toContain('wrapsUnder');
});

describe('what a filter is laid over, and found by', () => {
  const two = puppet({
    'arm_l.rx': curve([0, 0, 24, 50]),
    'arm_l.ry': curve([0, 5, 24, 9]),
    'arm_r.rx': curve([0, 3, 24, -50]),
    'arm_r.ry': curve([0, 0, 24, 70]),
  });

  test('the chosen channels are those, and none of the same name on another control', () => {
    const { shot: after, report } = runEdit(
      'filters.add',
      two,
      choose({ channels: ['arm_l.rx', 'arm_r.ry'] }),
      { kind: 'shift', channels: 'chosen' },
    );
    const same = (id: string) => {
      const c = rigOf(two).channelIndex(id);
      return stackOf(after).top[c] === stackOf(two).top[c];
    };
    expect(['arm_l.rx', 'arm_l.ry', 'arm_r.rx', 'arm_r.ry'].map(same)).toEqual([false, true, true, false]);
    expect(report.measures.find(({ name }) => name === 'channels filtered')?.value).toBe(2);
    // Channels by name, as files of before have them, are those of all members.
    const named = { ...after, layers: [{ ...after.layers[0]!, channels: ['rx'] }] };
    expect(stackOf(named).top[rigOf(two).channelIndex('arm_r.rx')]).not.toBe(
      stackOf(two).top[rigOf(two).channelIndex('arm_r.rx')],
    );
  });

  test('a layer that is laid while a variant shows belongs to that variant, and to no other', () => {
    const laid = runEdit('filters.add', two, choose({ nodes: ['arm_l'] }), { kind: 'shift' }).shot;
    const one = runEdit('variants.save', laid, choose({}), { name: 'A' }).shot;
    const muted = { ...one, layers: one.layers.map((layer) => ({ ...layer, muted: true })) };
    const both = runEdit('variants.save', muted, choose({}), { name: 'B' }).shot;
    // B shows: what is laid now is meant for it.
    const shown = runEdit('filters.add', both, choose({ nodes: ['arm_r'] }), { kind: 'smooth' }).shot;
    expect(
      shown.variants!.map((variant) => withVariant(shown, variant).layers.map((layer) => layer.muted)),
    ).toEqual([
      [false, true],
      [true, false],
    ]);
  });
});
