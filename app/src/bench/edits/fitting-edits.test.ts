import { describe, expect, test } from '@jest/globals';
import { actsOn, EDITS } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { choose, curve, filter, pass, puppet } from '../../../../core/src/testing/shot-literals.ts';
import { fittingFirst, missingFor } from './fitting-edits.ts';
import { counted, withUnit } from './numbers.ts';

describe('edits that fit what is selected', () => {
  const shot = puppet({ 'hips.ty': curve([0, 1, 6, 2]) });
  const missing = (id: string, selection: Parameters<typeof choose>[0], layers: Shot['layers'] = []) =>
    missingFor(
      EDITS.find((edit) => edit.id === id)!,
      actsOn(shot, choose(selection)),
      { ...shot, layers },
    );

  test('keys, channels, a choice of keys, a pass', () => {
    expect(missing('clean.thin', { nodes: ['hips'] })).toBeNull();
    expect(missing('clean.thin', { nodes: ['arm_l'] })).toMatch(/have keys/);
    expect(missing('passes.set', { nodes: ['hips'] })).toMatch(/no pass/);
    expect(missing('passes.set', {}, [pass('lift')])).toBeNull();
    expect(missing('filters.set', {}, [pass('lift')])).toMatch(/no filter/);
    expect(missing('filters.set', {}, [filter('smooth', ['hips'])])).toBeNull();
    expect(missing('variants.show', {})).toMatch(/no variant/);
    expect(missing('timing.loop', {})).toBeNull();
    expect(missing('passes.removeEmpty', {})).toMatch(/no pass/);
    expect(missing('passes.bakeOut', {})).toMatch(/no pass or filter/);
    expect(missing('passes.bakeOut', {}, [filter('smooth', ['hips'])])).toBeNull();
    expect(missing('spaces.switch', {})).toMatch(/follows/);
    expect(missing('contacts.hold', {})).toMatch(/no contact/);
    expect(missing('actions.renew', {})).toMatch(/No action/);
  });

  test('where there is nothing yet each group begins with what makes something', () => {
    const first = (group: string) =>
      fittingFirst(
        EDITS.filter((edit) => edit.group === group),
        ({ id }) => missing(id, {}),
      )[0]!.edit.id;
    expect(['passes', 'filters', 'spaces', 'actions'].map(first)).toEqual([
      'passes.addOffset',
      'filters.add',
      'spaces.addGoals',
      'actions.apply',
    ]);
  });

  test('those that fit stand first, in the order of the work', () => {
    const some = EDITS.slice(0, 4);
    const rows = fittingFirst(some, (edit) => (edit === some[0] || edit === some[2] ? 'no' : null));
    expect(rows.map(({ edit }) => some.indexOf(edit))).toEqual([1, 3, 0, 2]);
  });
});

test('things that are counted are whole, and one of them has its own word', () => {
  expect([counted(1, 'key'), counted(5062, 'key')]).toEqual(['1 key', '5,062 keys']);
  expect([withUnit(3, 'columns'), withUnit(1, 'frames'), withUnit(2.5, 'frames')]).toEqual([
    '3 columns',
    '1 frame',
    '3 frames',
  ]);
  expect([withUnit(0.8, 'cm'), withUnit(12.345, '°')]).toEqual(['0.80 cm', '12.3°']);
});
