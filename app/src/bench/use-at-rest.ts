import { useEffect, useState } from 'react';
import { isMoving, onDragging } from './gestures/drag.ts';

/** A hand that rests so long looks around. */
const RESTS_MS = 160;

/**
 * What follows a hand when it rests: while something is dragged it stays as it was, so that what is under the hand has the time.
 * @param live whether the hand is on what shows this
 */
export function useAtRest<Value>(value: Value, live: boolean): Value {
  const [shown, setShown] = useState(value);
  useEffect(() => {
    if (live || !isMoving()) {
      setShown(value);
      return;
    }
    const show = () => setShown(value);
    const timer = window.setTimeout(show, RESTS_MS);
    const stop = onDragging(() => !isMoving() && show());
    return () => {
      window.clearTimeout(timer);
      stop();
    };
  }, [value, live]);
  return live ? value : shown;
}
