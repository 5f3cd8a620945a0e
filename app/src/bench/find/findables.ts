/** All that can be found on the bench: edits, kinds of filters and relations, keystrokes, tools of the stage, pages, and what Help explains. */
import { EDITS, isFilter, LAYER_KINDS, RELATION_KINDS } from '@kneader/core';
import { HOW_TO } from '../../help/help-texts.ts';
import { bench } from '../bench-store.ts';
import { openWith } from '../edits/edit-panel.tsx';
import { strokeInWords } from '../keys/key-map.ts';
import { SHORTCUTS } from '../keys/shortcuts.ts';
import type { Findable } from './find.ts';
import { TRADE_WORDS } from './trade-words.ts';

export interface Found extends Findable {
  /** @param go to another page */
  readonly take: (go: (path: string) => void) => void;
}

const withTradeWords = (item: Found): Found => ({
  ...item,
  words: `${item.words} ${TRADE_WORDS[item.id] ?? ''}`,
});

const KINDS_APART: Readonly<Record<string, string>> = {
  'filters.add': 'procedural modifier live new',
  'spaces.add': 'constraint attach space new',
};

const edits = EDITS.map(({ id, title, summary, words, group }): Found => ({
  id: `edit ${id}`,
  title,
  says: summary,
  // What its kinds are called leads to those.
  words: KINDS_APART[id] ?? words,
  where: group,
  take: () => bench.openEdit(id),
}));

const filters = LAYER_KINDS.filter(isFilter).map(({ kind, title, summary, words }): Found => ({
  id: `filter ${kind}`,
  title: `Filter: ${title}`,
  says: summary,
  words,
  where: 'filters',
  take: () => openWith('filters.add', { kind, settings: {} }),
}));

const relations = RELATION_KINDS.filter(({ ownEdit }) => !ownEdit).map(
  ({ kind, title, summary, words }): Found => ({
    id: `relation ${kind}`,
    title: `Relation: ${title}`,
    says: summary,
    words,
    where: 'spaces',
    take: () => openWith('spaces.add', { kind }),
  }),
);

const titles = new Set(EDITS.map(({ title }) => title));

/** Lines that are the same with another stroke are found once, those that are called as an edit with that. */
const strokes = SHORTCUTS.filter(
  ({ does, id }, i) =>
    SHORTCUTS.findIndex((other) => other.does === does) === i &&
    !titles.has(does) &&
    !/^(find|variant\.\d)/.test(id),
).map(({ id, press, does, group, run }): Found => ({
  id: `stroke ${id}`,
  title: does,
  says: `Keystroke: ${strokeInWords(press)}, unless Help says another.`,
  words: '',
  where: group.toLowerCase(),
  counts: 0.85,
  take: run,
}));

/** Tools that are buttons of the stage: pressed as a hand would. */
const pressed = (name: string) => () =>
  [...document.querySelectorAll<HTMLElement>('.stage-tools button, .stage-tools label')]
    .find((button) => button.textContent?.trim().startsWith(name))
    ?.click();

const stage = (
  [
    ['Ghosts', 'The figure at the poses before and after', 'frames onion skin previous next'],
    ['Weight', 'The centre of mass, its path over the ground, and what carries it', 'balance support plumb'],
    ['Free', 'The stage from anywhere: drag to turn it', 'orbit perspective view camera'],
    ['Front', 'The stage from the front', 'view'],
    ['Side', 'The stage from the side', 'view profile'],
    ['Top', 'The stage from above', 'view plan'],
    ['Camera', 'What the camera of the shot sees', 'view shot lens frame'],
  ] as const
).map(([name, says, words]): Found => ({
  id: `stage ${name.toLowerCase()}`,
  title: `Stage: ${name}`,
  says,
  words,
  where: 'stage',
  take: pressed(name),
}));

const pages = (
  [
    [
      '/',
      'Shots',
      'All shots and the demo shots; files are opened there',
      'import open load file new demo home list',
    ],
    ['/pantry', 'Pantry', 'Saved actions in folders', 'library clips poses actions store'],
    [
      '/routines',
      'Routines',
      'Saved runs of edits, for many shots',
      'batch macro script automate queue process',
    ],
    [
      '/characters',
      'Characters',
      'Pairs, sides, facing, heights and masses of the figures',
      'rig skeleton setup pairs',
    ],
    [
      '/help',
      'Help',
      'How to, words and keystrokes',
      'manual docs keyboard shortcuts hotkeys glossary tutorial',
    ],
  ] as const
).map(([path, title, says, words]): Found => ({
  id: `page ${path}`,
  title,
  says,
  words,
  where: 'page',
  take: (go) => go(path),
}));

const howTo = HOW_TO.map(({ task, steps }): Found => ({
  id: `how ${task}`,
  title: task,
  says: steps[0] ?? '',
  words: steps.join(' '),
  where: 'how to',
  counts: 0.4,
  take: (go) => go(`/help?task=${encodeURIComponent(task)}`),
}));

export const FINDABLES: readonly Found[] = [
  ...edits,
  ...filters,
  ...relations,
  ...strokes,
  ...stage,
  ...pages,
  ...howTo,
].map(withTradeWords);
