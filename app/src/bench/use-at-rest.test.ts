import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { act, renderHook } from '@testing-library/react';
import { hand } from '../testing/hand.ts';
import { useAtRest } from './use-at-rest.ts';

beforeEach(() => void jest.useFakeTimers());
afterEach(() => void jest.useRealTimers());

const acts = { move: () => undefined, cancel: () => undefined };
const shown = (live = false) =>
  renderHook(({ value }: { value: number }) => useAtRest(value, live), { initialProps: { value: 1 } });

test('it waits while a hand moves, and follows when the hand rests or lets go', () => {
  const { result, rerender } = shown();
  rerender({ value: 2 });
  expect(result.current).toBe(2);
  act(() => {
    hand.press({ x: 0 }, acts);
  });
  act(() => {
    hand.send('pointermove', { x: 20 });
  });
  rerender({ value: 3 });
  rerender({ value: 4 });
  expect(result.current).toBe(2);
  act(() => {
    jest.advanceTimersByTime(400);
  });
  expect(result.current).toBe(4);
  rerender({ value: 5 });
  expect(result.current).toBe(4);
  act(() => {
    hand.send('pointerup', { x: 20 });
  });
  expect(result.current).toBe(5);
});

test('under the hand itself it follows at once', () => {
  const { result, rerender } = shown(true);
  act(() => {
    hand.press({ x: 0 }, acts);
  });
  act(() => {
    hand.send('pointermove', { x: 20 });
  });
  rerender({ value: 3 });
  expect(result.current).toBe(3);
  act(() => {
    hand.send('pointerup', { x: 20 });
  });
});
