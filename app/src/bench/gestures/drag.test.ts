/** The machine behind every drag: what it tells whom, and every way in which it ends. */
import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { hand, pointerEvent } from '../../testing/hand.ts';
import { beginDrag, cancelDrag, isDragging } from './drag.ts';
import type { DragActs, DragPoint } from './drag.ts';

let log: string[] = [];
const said = (name: string) => (at?: DragPoint) => {
  const keys = at ? (['shift', 'ctrl', 'alt'] as const).filter((key) => at[key]).join('+') : '';
  log.push([name, at && `${at.x},${at.y}`, keys].filter(Boolean).join(' '));
};
const acts: DragActs = {
  start: said('start'),
  move: said('move'),
  end: said('end'),
  click: said('click'),
  cancel: () => log.push('cancel'),
  settle: () => log.push('settle'),
};

beforeEach(() => {
  log = [];
});
afterEach(async () => {
  cancelDrag();
  // The hand opens, and what waits for that is over.
  hand.send('pointerup', { x: 0 });
  await new Promise((done) => setTimeout(done));
});

test('moves of less than three pixels are a click, however many there are', () => {
  hand.drag({ x: 10 }, [{ x: 12, y: 1 }, { x: 9 }, { x: 11, y: 2 }], acts);
  expect(log).toEqual(['click 11,2', 'settle']);
  expect(isDragging()).toBe(false);
});

test('from three pixels on it is a drag, back at its start too', () => {
  hand.drag({ x: 10 }, [{ x: 12 }, { x: 13 }, { x: 10 }], acts);
  expect(log).toEqual(['start 10,0', 'move 13,0', 'move 10,0', 'move 10,0', 'end 10,0', 'settle']);
});

test('a release far away that no movement announced is a drag', () => {
  hand.press({ x: 10 }, acts);
  hand.send('pointerup', { x: 40, y: 5 });
  expect(log).toEqual(['start 10,0', 'move 40,5', 'end 40,5', 'settle']);
});

test('modifiers come and go without a movement', () => {
  hand.press({ x: 0 }, acts);
  hand.send('pointermove', { x: 9, y: 4 });
  hand.key('keydown', 'Shift', { shiftKey: true });
  hand.key('keydown', 'Alt', { shiftKey: true, altKey: true });
  hand.key('keyup', 'Shift', { altKey: true });
  hand.send('pointerup', { x: 9, y: 4, alt: true });
  expect(log.slice(1, 5)).toEqual(['move 9,4', 'move 9,4 shift', 'move 9,4 shift+alt', 'move 9,4 alt']);
});

describe('it is taken back, and what the hand does afterwards means nothing', () => {
  const ways: readonly (readonly [string, () => void])[] = [
    ['Escape', () => hand.key('keydown', 'Escape')],
    ...(['shiftKey', 'ctrlKey', 'altKey', 'metaKey'] as const).map(
      (held) => [`Escape with ${held}`, () => hand.key('keydown', 'Escape', { [held]: true })] as const,
    ),
    [
      'Escape with all of them',
      () => hand.key('keydown', 'Escape', { shiftKey: true, ctrlKey: true, altKey: true }),
    ],
    ['Undo', () => hand.key('keydown', 'z', { ctrlKey: true })],
    ['the window left', () => window.dispatchEvent(new Event('blur'))],
    ['the pointer taken away', () => hand.send('pointercancel', { x: 20 })],
    ['a second finger', () => hand.send('pointerdown', { x: 90 }, 2)],
    [
      'another drag',
      () =>
        beginDrag(pointerEvent('pointerdown', { x: 0 }, 3), {
          ...acts,
          cancel: () => undefined,
          settle: () => undefined,
        }),
    ],
  ];
  test.each(ways)('%s', (_, way) => {
    hand.press({ x: 0 }, acts);
    hand.send('pointermove', { x: 20 });
    way();
    expect(log).toEqual(['start 0,0', 'move 20,0', 'cancel', 'settle']);
    cancelDrag();
    hand.send('pointermove', { x: 50 });
    hand.send('pointerup', { x: 50 });
    expect(log).toHaveLength(4);
    expect(isDragging()).toBe(false);
  });

  test.each(ways)('%s before it has begun: no drag, no click', (_, way) => {
    hand.press({ x: 0 }, acts);
    way();
    expect(log).toEqual(['settle']);
  });

  test('the key that takes it back is nobody else’s, and other keys are', () => {
    const heard: string[] = [];
    const listen = (event: Event) => heard.push((event as KeyboardEvent).key);
    document.body.addEventListener('keydown', listen);
    const press = (key: string) =>
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    hand.press({ x: 0 }, acts);
    hand.send('pointermove', { x: 20 });
    press('q');
    press('Escape');
    press('Escape');
    document.body.removeEventListener('keydown', listen);
    expect(heard).toEqual(['q', 'Escape']);
  });
});

test('another pointer’s ways are not its own', () => {
  hand.press({ x: 0 }, acts);
  hand.send('pointermove', { x: 30 }, 7);
  hand.send('pointerup', { x: 30 }, 7);
  expect(isDragging()).toBe(true);
  expect(log).toEqual([]);
});

test('the click that ends a drag is swallowed, the next one is not', async () => {
  const clicks: string[] = [];
  const listen = () => clicks.push('click');
  document.body.addEventListener('click', listen);
  hand.drag({ x: 0 }, [{ x: 20 }], acts);
  document.body.click();
  await new Promise((done) => setTimeout(done));
  document.body.click();
  document.body.removeEventListener('click', listen);
  expect(clicks).toEqual(['click']);
});

test('what its start refuses goes no further', () => {
  hand.drag({ x: 0 }, [{ x: 20 }, { x: 30 }], { ...acts, start: cancelDrag });
  expect(log).toEqual(['cancel', 'settle']);
});
