import { beforeEach, describe, expect, test } from '@jest/globals';
import { isForBench, isWriting, takeKeys } from './key-owner.ts';

const made = (html: string): Element => {
  document.body.innerHTML = html;
  return document.body.querySelector('[data-it]') ?? document.body.firstElementChild!;
};

beforeEach(() => {
  document.body.innerHTML = '';
});

describe('the bench’s own', () => {
  test.each(['Space', 'ArrowLeft', '+', 'Ctrl+Z', 'N', 'Delete', 'Escape'])(
    '%s, with the focus nowhere',
    (press) => {
      expect(isForBench(document.body, press)).toBe(true);
      expect(isForBench(null, press)).toBe(true);
    },
  );

  test.each([
    ['<button>Apply</button>', 'Space'],
    ['<button>Apply</button>', 'Ctrl+Z'],
    ['<div role="dialog"><button data-it>Close</button></div>', 'Ctrl+Z'],
    ['<div role="dialog"><button data-it>Close</button></div>', 'Ctrl+Y'],
    ['<a href="#">Shots</a>', 'Space'],
    ['<div role="slider" tabindex="0"></div>', 'Space'],
    ['<input type="checkbox">', 'ArrowLeft'],
    ['<input inputmode="decimal" value="3">', 'Space'],
    ['<input role="spinbutton" value="3">', 'N'],
    ['<input role="spinbutton" value="3">', 'Escape'],
    ['<div role="application" tabindex="0"></div>', 'ArrowRight'],
  ])('on %s: %s', (html, press) => {
    expect(isForBench(made(html), press)).toBe(true);
  });
});

describe('not the bench’s', () => {
  test.each([
    ['<input value="name">', 'Space'],
    ['<input type="search">', 'Ctrl+Z'],
    ['<textarea></textarea>', 'N'],
    ['<input role="spinbutton" value="3">', 'ArrowLeft'],
    ['<input role="spinbutton" value="3">', '-'],
    ['<input inputmode="decimal" value="3">', 'Backspace'],
    ['<input inputmode="decimal" value="3">', 'Ctrl+A'],
    ['<button>Apply</button>', 'Enter'],
    ['<input type="checkbox">', 'Space'],
    ['<div role="slider" tabindex="0"></div>', 'ArrowRight'],
    ['<div role="radiogroup"><button data-it>One</button></div>', 'ArrowDown'],
    ['<svg role="listbox" data-arrows tabindex="0"></svg>', 'ArrowUp'],
    ['<div role="dialog"><button data-it>Yes</button></div>', 'Space'],
    ['<ul role="menu"><li data-it tabindex="0">glTF</li></ul>', 'ArrowDown'],
    ['<input role="combobox" aria-expanded="true">', 'Escape'],
  ])('on %s: %s', (html, press) => {
    expect(isForBench(made(html), press)).toBe(false);
  });

  test('a number that was typed into takes its own typing back; one that was not leaves Ctrl Z to the shot', () => {
    const field = made('<input role="spinbutton" value="3">') as HTMLInputElement;
    field.dataset['atFocus'] = '3';
    expect(isForBench(field, 'Ctrl+Z')).toBe(true);
    field.value = '31';
    expect(isForBench(field, 'Ctrl+Z')).toBe(false);
  });

  test('Escape closes what lies open first', () => {
    document.body.innerHTML = '<div class="ant-popover"></div>';
    expect(isForBench(document.body, 'Escape')).toBe(false);
    expect(isForBench(document.body, 'Space')).toBe(true);
    document.body.innerHTML = '<div class="ant-popover ant-popover-hidden"></div>';
    expect(isForBench(document.body, 'Escape')).toBe(true);
  });
});

test('the clipboard is a field’s where something is typed', () => {
  expect(isWriting(made('<input value="3">'))).toBe(true);
  expect(isWriting(made('<textarea></textarea>'))).toBe(true);
  expect(isWriting(made('<input type="checkbox">'))).toBe(false);
  expect(isWriting(made('<button>Apply</button>'))).toBe(false);
});

describe('all keys are somebody else’s', () => {
  test('while a dialog is about to open, and the bench’s again when it gives them back', () => {
    const giveBack = takeKeys();
    for (const press of ['S', 'Space', 'Escape', 'Ctrl+Z'])
      expect(isForBench(document.body, press)).toBe(false);
    giveBack();
    expect(isForBench(document.body, 'S')).toBe(true);
  });

  test('while a lane is carried by its grip, and not when it is put down', () => {
    const grip = (pressed: string) =>
      made(`<button aria-roledescription="sortable"${pressed}>Move the lane Poses</button>`);
    for (const press of ['Escape', 'ArrowUp', 'Enter', 'Space'])
      expect(isForBench(grip(' aria-pressed="true"'), press)).toBe(false);
    expect(isForBench(grip(''), 'Escape')).toBe(true);
  });
});
