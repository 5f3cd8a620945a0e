/**
 * What every edit says and does: a line for each of its examples on some shots, with its sentences and figures as they are read in
 * the bench, and a print of the keys that come out. See `testing/approved.ts`.
 */
import { describe, expect, test } from '@jest/globals';
import { firstTray } from '../demo/first-tray.ts';
import { writeShotFile } from '../interchange/shot-file/write-shot.ts';
import type { Selection } from '../document/selection.ts';
import type { Shot } from '../document/shot.ts';
import { approvedLines, print, short } from '../testing/approved.ts';
import { SELECTIONS, SHOTS } from '../testing/contract-shots.ts';
import { EXAMPLES } from '../testing/edit-examples.ts';
import { choose } from '../testing/shot-literals.ts';
import { EDITS } from './catalogue.ts';
import type { Report } from './edit.ts';
import { runEdit } from './run-edit.ts';

const tray = firstTray();
/** Shots with what is selected on them. */
const WHERE: Readonly<Record<string, readonly [Shot, Selection]>> = {
  'a range of one channel': [SHOTS['a plain shot']!, SELECTIONS['a channel in a range']!],
  'two controls': [SHOTS['a plain shot']!, SELECTIONS['two controls']!],
  'single keys': [SHOTS['a plain shot']!, SELECTIONS['single keys']!],
  'nothing selected': [SHOTS['a plain shot']!, SELECTIONS.nothing!],
  'keys between frames': [SHOTS['keys between frames and a hair apart']!, SELECTIONS['two controls']!],
  'stepped blocking': [SHOTS['stepped blocking']!, SELECTIONS['two controls']!],
  'curves that repeat': [SHOTS['curves that repeat']!, SELECTIONS['two controls']!],
  'a locked key': [SHOTS['a locked key']!, SELECTIONS['two controls']!],
  'a pass chosen': [SHOTS['a pass']!, SELECTIONS['keys of the pass in a range']!],
  'a pass not chosen': [SHOTS['a pass']!, SELECTIONS['two controls']!],
  'First tray, an arm': [tray, choose({ nodes: ['hips', 'hand_goal_l', 'upperarm_l', 'head'] })],
  'First tray, a range': [
    tray,
    choose({ nodes: tray.nodes.map(({ id }) => id), range: { start: 9, end: 41 } }),
  ],
};

/** A place with its numbers shortened likewise. */
const placed = (where: object) =>
  JSON.stringify(where, (_, value: unknown) => (typeof value === 'number' ? Number(short(value)) : value));

function said({ status, findings, measures, touched }: Report): string {
  const figures = measures.map(
    ({ name, value, unit, before, where }) =>
      `${name} ${before === undefined ? '' : `${short(before)} → `}${short(value)} ${unit}${where ? ` at ${placed(where)}` : ''}`,
  );
  const places = findings.map(({ code, sentence, where }) => `${code}: ${sentence} ${placed(where)}`);
  return [status, ...places, ...figures, `${touched.length} touched`].join(' · ');
}

/** A print of a shot's file, its numbers to a millionth. */
const printOf = (shot: Shot) =>
  print(
    writeShotFile(shot).replaceAll(/-?\d+\.\d+(?:e[-+]\d+)?/g, (number) =>
      String(Math.round(Number(number) * 1e6) / 1e6),
    ),
  );

/** What is chosen, many controls as their number. */
const chosenIn = (selection: Selection) =>
  JSON.stringify(selection, (name, value: unknown) =>
    name === 'nodes' && Array.isArray(value) && value.length > 4 ? `${value.length} controls` : value,
  );

function lines(id: string): string[] {
  return (EXAMPLES[id] ?? []).flatMap((options, example) =>
    Object.entries(WHERE).map(([name, [shot, selection]]) => {
      const result = runEdit(id, shot, selection, options);
      const chosen = result.selection === selection ? '' : ` · then chosen ${chosenIn(result.selection)}`;
      const made = result.made === undefined ? '' : ` · made ${print(JSON.stringify(result.made))}`;
      const keys = result.shot === shot ? '' : ` · ${printOf(result.shot)}`;
      return `${id} ${example + 1}, ${name}: ${said(result.report)}${keys}${made}${chosen}`;
    }),
  );
}

const approved = approvedLines('approved-edits', () => EDITS.flatMap(({ id }) => lines(id)));

describe('what every edit says and does is what was approved', () => {
  test.each(EDITS.map(({ id }) => id))('%s', (id) => {
    expect(lines(id)).toEqual(approved.filter((line) => line.startsWith(`${id} `)));
  });

  test('no line stands for an edit that is gone', () => {
    const known = new Set(EDITS.map(({ id }) => id));
    expect(approved.filter((line) => !known.has(line.split(' ')[0]!))).toEqual([]);
  });
});
