/** Keep the selected controls under a name, or change what is kept. */
import { z } from 'zod';
import { finding, refuse } from '../../base/finding.ts';
import { LIMITS } from '../../base/limits.ts';
import { freshMarkId, selectionSetsOf, withMarks } from '../../document/marks.ts';
import type { SelectionSet } from '../../document/marks.ts';
import type { Shot } from '../../document/shot.ts';
import { defineEdit, outcome, refused } from '../edit.ts';

export const saveSet = defineEdit({
  id: 'sets.save',
  title: 'Save selection set',
  summary: 'Keeps the selected controls together under a name and a digit, or renames and refills a set.',
  words: 'group quick select choose controls picker remember',
  group: 'keys',
  locks: 'none',
  promise: 'sameMotion',
  options: z.object({
    set: z.string().optional().meta({
      title: 'Set',
      description: 'Which one is changed; left out, a new one is made of what is selected.',
    }),
    name: z
      .string()
      .trim()
      .max(LIMITS.name)
      .optional()
      .meta({ title: 'Name', description: 'Left out, “Set” and a number.' }),
    digit: z.number().int().min(0).max(9).optional().meta({
      title: 'Digit',
      description: 'Which digit chooses it with Shift; 0 none. It is taken from a set that has it.',
    }),
    refill: z.boolean().default(false).meta({
      title: 'As selected now',
      description: 'What a known set holds is replaced by what is selected.',
    }),
  }),
  run(shot, selection, { set: id, name, digit, refill }) {
    const sets = selectionSetsOf(shot);
    const known = new Set(shot.nodes.map((node) => node.id));
    const nodes = selection.nodes.filter((node) => known.has(node));
    const was = id === undefined ? null : knownSet(shot, id);
    if (nodes.length === 0 && (was === null || refill))
      return refused(shot, selection, finding('nothingSelected', {}, 'the controls that belong together'));
    const others = sets.filter((one) => one !== was);
    if (name && others.some((one) => one.name === name))
      return refused(shot, selection, finding('nameTaken', {}, name));
    if (was === null && sets.length >= LIMITS.marks)
      refuse('badOption', {}, 'sets', `there are ${LIMITS.marks} already`);
    const { digit: had, ...rest } = was ?? {
      id: freshMarkId('set', new Set(sets.map((one) => one.id))),
      name: freshName(sets),
      nodes,
      digit: freeDigit(sets),
    };
    const has = digit === undefined ? had : digit || undefined;
    const now: SelectionSet = {
      ...rest,
      name: name || rest.name,
      ...(refill && { nodes }),
      ...(has !== undefined && { digit: has }),
    };
    if (was && JSON.stringify(was) === JSON.stringify(now)) return outcome(shot, shot, selection);
    // A digit chooses one set.
    const loses = others.find((one) => has !== undefined && one.digit === has);
    const after = (was ? sets : [...sets, now]).map((one) => {
      if (one === was) return now;
      if (one !== loses) return one;
      const { digit: _, ...without } = one;
      return without;
    });
    return outcome(shot, withMarks(shot, 'selectionSets', after), selection, {
      findings: loses ? [finding('digitMoved', {}, has!, loses.name)] : [],
      measures: [{ name: 'controls', value: now.nodes.length, unit: '' }],
    });
  },
});

export const knownSet = (shot: Shot, id: string): SelectionSet =>
  selectionSetsOf(shot).find((one) => one.id === id) ?? refuse('unknownSet', {}, id);

const freeDigit = (sets: readonly SelectionSet[]): number | undefined =>
  [1, 2, 3, 4, 5, 6, 7, 8, 9].find((digit) => !sets.some((one) => one.digit === digit));

function freshName(sets: readonly SelectionSet[]): string {
  const names = new Set(sets.map(({ name }) => name));
  for (let i = 1; ; i += 1) if (!names.has(`Set ${i}`)) return `Set ${i}`;
}
