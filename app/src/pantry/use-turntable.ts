import { useEffect, useState } from 'react';

const waiting = new Set<() => void>();
let isRunning = false;

function nextTurn(): void {
  const [first] = waiting;
  isRunning = first !== undefined;
  if (!first) return;
  waiting.delete(first);
  first();
  requestAnimationFrame(nextTurn);
}

/** False at first, true from the picture on whose turn it is: however many come into sight at once, one of them is filled in for each picture. */
export function useTurntable(): boolean {
  const [isOn, setOn] = useState(false);
  useEffect(() => {
    const mine = () => setOn(true);
    waiting.add(mine);
    if (!isRunning) requestAnimationFrame(nextTurn);
    isRunning = true;
    return () => void waiting.delete(mine);
  }, []);
  return isOn;
}
