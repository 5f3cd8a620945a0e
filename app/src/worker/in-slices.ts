/** Driving long work in slices, so that what is asked meanwhile is heard. */
import type { Work } from '@kneader/core';

/** Long enough to cost little, short enough that nobody waits for one. */
const SLICE_MS = 24;

interface Drive {
  readonly onCourse: (done: number) => void;
  /** Asked between two slices. */
  readonly isLeft: () => boolean;
  readonly now?: () => number;
}

/** The result; null when it was left. */
export async function inSlices<Result>(
  work: Work<Result>,
  { onCourse, isLeft, now = () => performance.now() }: Drive,
): Promise<Result | null> {
  let until = now() + SLICE_MS;
  for (let step = work.next(); ; step = work.next()) {
    if (step.done) return step.value;
    if (now() < until) continue;
    onCourse(step.value.done);
    await nextTask();
    if (isLeft()) {
      work.return(undefined as never);
      return null;
    }
    until = now() + SLICE_MS;
  }
}

/** Messages are heard between tasks; a promise alone would go ahead of them. A timer would wait 4 ms and more. */
function nextTask(): Promise<void> {
  return new Promise((resolve) => {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      port1.close();
      resolve();
    };
    port2.postMessage(null);
  });
}
