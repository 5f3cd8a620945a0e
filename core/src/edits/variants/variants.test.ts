/** Named states of the stack. */
import { describe, expect, test } from '@jest/globals';
import { shotFromJson } from '../../interchange/shot-file/read-shot.ts';
import { readShotFile } from '../../interchange/shot-file/read-shot.ts';
import { writeShotFile } from '../../interchange/shot-file/write-shot.ts';
import { valuesAt } from '../../evaluation/evaluation.ts';
import type { Shot } from '../../document/shot.ts';
import { shownVariant, variantsOf } from '../../document/variants.ts';
import { choose, curve, filter, pass, puppet } from '../../testing/shot-literals.ts';
import { runEdit } from '../run-edit.ts';

const base: Shot = {
  ...puppet({ 'hips.ty': curve([0, 1, 24, 5]) }),
  layers: [
    pass('a', { members: ['hips'], curves: [{ ty: curve([0, 10]) }] }),
    pass('b', {
      kind: 'replace',
      members: ['hips'],
      weight: curve([0, 0.5, 24, 1]),
      curves: [{ ty: curve([0, 30]) }],
    }),
  ],
};
const run = (shot: Shot, id: string, options: object) => runEdit(id, shot, choose({}), options);
const after = (shot: Shot, ...steps: [string, object][]) =>
  steps.reduce((so, [id, options]) => run(so, id, options).shot, shot);
const shown = (shot: Shot) => [0, 7, 24].map((frame) => valuesAt(shot, frame)[1]);

const two = after(
  base,
  ['variants.save', { name: 'Calm' }],
  ['passes.move', { pass: 'b', place: 1 }],
  ['passes.setWeight', { pass: 'a', weight: 0.7 }],
  ['passes.set', { pass: 'b', muted: true }],
  ['variants.save', {}],
);
const [calm, other] = variantsOf(two).map(({ id }) => id) as [string, string];

describe('a variant', () => {
  test('brings back what was muted, the weights and the order; keys are the same objects', () => {
    expect(variantsOf(two).map(({ name }) => name)).toEqual(['Calm', 'Variant A']);
    const back = after(two, ['variants.show', { variant: calm }]);
    expect(shown(back)).toEqual(shown(base));
    expect(back.layers.map(({ id }) => id)).toEqual(['a', 'b']);
    expect(back.layers[0]!.curves).toBe(base.layers[0]!.curves);
    expect(shown(after(back, ['variants.show', { variant: other }]))).toEqual(shown(two));
    expect(run(two, 'variants.show', { variant: other }).report.status).toBe('unchanged');
    expect([shownVariant(two)!.id, shownVariant(back)!.id]).toEqual([other, calm]);
  });

  test('layers that came later are muted in it, and that is said', () => {
    const later = {
      ...two,
      layers: [...two.layers, pass('c', { members: ['hips'], curves: [{ ty: curve([0, 99]) }] })],
    };
    const { shot, report } = run(later, 'variants.show', { variant: calm });
    expect(shown(shot)).toEqual(shown(base));
    expect(report.findings.map(({ sentence }) => sentence).join(' ')).toMatch(
      /muted in it: c\..*not saved as a variant/,
    );
  });

  test('one that names a layer that is gone does without it', () => {
    const fewer = after(two, ['passes.remove', { pass: 'b' }]);
    expect(after(fewer, ['variants.show', { variant: calm }]).layers.map(({ id }) => id)).toEqual(['a']);
  });

  test('is renamed, takes the stack as it stands, and is forgotten', () => {
    const renamed = after(two, ['variants.set', { variant: calm, name: 'Quiet', update: true }]);
    expect(variantsOf(renamed)[0]!.name).toBe('Quiet');
    expect(shown(after(renamed, ['variants.show', { variant: calm }]))).toEqual(shown(two));
    expect(run(two, 'variants.set', { variant: calm, name: 'Variant A' }).report.findings[0]!.code).toBe(
      'nameTaken',
    );
    const gone = after(two, ['variants.remove', { variant: calm }]);
    expect(variantsOf(gone).map(({ id }) => id)).toEqual([other]);
    expect(shown(gone)).toEqual(shown(two));
  });

  test('lives in the file, and its weights go along when time is changed', () => {
    const read = readShotFile(writeShotFile(two));
    expect(shown(after(read, ['variants.show', { variant: calm }]))).toEqual(shown(base));
    const stretched = after(two, ['timing.stretch', { scope: 'everything', factor: 2 }]);
    const weight = variantsOf(stretched)[0]!.states[1]!.weight;
    expect([...weight.times]).toEqual([
      ...after(base, ['timing.stretch', { scope: 'everything', factor: 2 }]).layers[1]!.weight.times,
    ]);
    expect(weight.times[1]).toBe(48);
  });

  test('is baked out as it shows, whatever shows now', () => {
    const made = shotFromJson(run(two, 'variants.bakeOut', { variant: calm, keys: 'every' }).made);
    expect([made.name, made.layers, made.variants ?? []]).toEqual(['Puppet, Calm', [], []]);
    shown(base).forEach((value, i) => expect(shown(made)[i]).toBeCloseTo(value!, 9));
  });

  test('gets an id that no other has, and a name, also after others were forgotten and beyond the letters', () => {
    const third = after(
      two,
      ['variants.save', {}],
      ['variants.remove', { variant: calm }],
      ['variants.save', {}],
    );
    expect(new Set(variantsOf(third).map(({ id }) => id)).size).toBe(3);
    const many = Array.from({ length: 27 }, (): [string, object] => ['variants.save', {}]);
    const names = variantsOf(after(base, ...many)).map(({ name }) => name);
    expect([names[0], names[25], names[26]]).toEqual(['Variant A', 'Variant Z', 'Variant 27']);
  });

  test('of a file in which two share an id: a sentence', () => {
    const json = JSON.parse(writeShotFile(two)) as { variants: { id: string }[] };
    json.variants[1]!.id = json.variants[0]!.id;
    expect(() => shotFromJson(json)).toThrow('two variants share an id');
  });

  test('layers that are copied in time stand in it under their own ids, with their weights', () => {
    const shaken = {
      ...two,
      layers: [
        ...two.layers,
        filter(
          'shift',
          ['hips'],
          { frames: 2 },
          { id: 'w', range: { start: 4, end: 9, rampIn: 0, rampOut: 0 } },
        ),
      ],
    };
    const named = after(shaken, ['variants.save', { name: 'Shaken' }]);
    const turned = runEdit('timing.reverse', named, choose({ range: { start: 0, end: 12 } }), {
      append: true,
    }).shot;
    const ids = turned.layers.map(({ id }) => id);
    expect(ids.length).toBeGreaterThan(3);
    expect(
      variantsOf(turned)
        .find(({ name }) => name === 'Shaken')!
        .states.map(({ layer }) => layer),
    ).toEqual(ids);
  });

  test('one that came later is not solo in it, whatever it is now', () => {
    const later = {
      ...two,
      layers: [...two.layers, pass('c', { solo: true, members: ['hips'], curves: [{ ty: curve([0, 99]) }] })],
    };
    const { layers } = after(later, ['variants.show', { variant: calm }]);
    expect(layers.map(({ id, solo, muted }) => [id, solo, muted]).at(-1)).toEqual(['c', false, true]);
  });

  test('without any layer there is nothing to name', () => {
    expect(run(puppet(), 'variants.save', {}).report.findings[0]!.code).toBe('noLayers');
  });
});
