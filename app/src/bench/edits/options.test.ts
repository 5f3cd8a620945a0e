import { describe, expect, test } from '@jest/globals';
import type { z } from 'zod';
import { EDITS, findEdit } from '@kneader/core';
import { readable, withUnit } from './numbers.ts';
import { initialOptions, isMeant, optionFields } from './option-fields.ts';

describe('numbers as people read them', () => {
  test.each([
    [12.345678, 'cm', '12.35 cm'],
    [-0.0001, 'cm', '< 0.01 cm'],
    [-0, '°', '0.0°'],
    [-12.34, '°', '-12.3°'],
    [1184, '', '1,184'],
    [0.00049, '×', '< 0.001×'],
    [52.4, 'frames', '52 frames'],
    [1e9, 'cm', '1,000,000,000.00 cm'],
  ])('%d %s is %s', (value, unit, text) => {
    expect(withUnit(value, unit)).toBe(text);
  });

  test('never −0, never 14 digits', () => {
    for (let i = -50; i < 50; i += 1) expect(readable(i / 37_000, 'cm')).toMatch(/^(<? ?-?\d+\.\d{2})$/);
    expect(readable(-0.0, 'cm')).toBe('0.00');
  });
});

describe('forms from schemas', () => {
  test.each(EDITS.map((edit) => [edit.id, edit] as const))(
    '%s: every field has a title, and its defaults are options that it takes',
    (_, edit) => {
      const fields = optionFields(edit.options);
      for (const field of fields) expect(field.title).not.toBe(field.name);
      const initial = initialOptions(edit.options);
      const shape = edit.options.shape as Readonly<Record<string, z.ZodType>>;
      for (const [name, value] of Object.entries(initial))
        expect(shape[name]!.safeParse(value).success).toBe(true);
    },
  );

  test('an option means something where its others are so, and in shots that have what it is about', () => {
    const fieldOf = (edit: string, name: string) =>
      optionFields(findEdit(edit)!.options).find((field) => field.name === name)!;
    const columns = fieldOf('clean.thin', 'keepColumns');
    expect([isMeant(columns, {}, new Set()), isMeant(columns, {}, new Set(['columns']))]).toEqual([
      false,
      true,
    ]);
    const cutoff = fieldOf('clean.smooth', 'cutoff');
    const meant = (method: string) => isMeant(cutoff, { method }, new Set());
    expect([meant('lowPass'), meant('spikes')]).toEqual([true, false]);
    // In one of several ways.
    const ease = fieldOf('motion.flight', 'ease');
    const ways = [
      { before: 'along', after: 'stays' },
      { before: 'eased', after: 'stays' },
      { before: 'along', after: 'back' },
    ];
    expect(ways.map((options) => isMeant(ease, options, new Set()))).toEqual([false, true, true]);
  });

  test('ranges, units and steps come through', () => {
    const field = optionFields(findEdit('clean.thin')!.options).find(({ name }) => name === 'position')!;
    expect(field).toMatchObject({ kind: 'number', unit: 'cm', max: 100, initial: 0.2, step: 0.01 });
    const method = optionFields(findEdit('tangents.retangent')!.options).find(
      ({ name }) => name === 'method',
    )!;
    expect(method).toMatchObject({ kind: 'choice', initial: 'steady' });
    expect(method.choices).toContainEqual({ value: 'smoothest', words: 'smoothest' });
  });
});
