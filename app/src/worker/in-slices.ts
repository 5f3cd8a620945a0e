/** Driving long work in slices, so that what is asked meanwhile is heard. */
import type { Work } from '@kneader/core';

/** Long enough to cost little, short enough that nobody waits for one. */
const SLICE_MS = 24;
/** When what stands so far is shown for the first time, and how long at least lies between two looks: each costs as much as its answer. */
const FIRST_LOOK_MS = 500;
const LOOK_MS = 2000;
/** Of what goes down step by step the course is what is asked for: it is looked at so often, if whoever looks has seen the last one. */
const OFTEN_MS = 160;

interface Drive<SoFar> {
  /** @param soFar what stands already, every few looks; else undefined */
  readonly onCourse: (done: number, soFar?: SoFar, costs?: readonly number[]) => void;
  /** Asked between two slices. */
  readonly isLeft: () => boolean;
  /** Whether the last look has been seen; left out, it always has. */
  readonly isSeen?: () => boolean;
  readonly now?: () => number;
}

/** The result; null when it was left. */
export async function inSlices<Result, SoFar>(
  work: Work<Result, SoFar>,
  { onCourse, isLeft, isSeen = () => true, now = () => performance.now() }: Drive<SoFar>,
): Promise<Result | null> {
  let until = now() + SLICE_MS;
  const begun = now();
  let last: number | null = null;
  for (let step = work.next(); ; step = work.next()) {
    if (step.done) return step.value;
    if (now() < until) continue;
    const { done, soFar, costs } = step.value;
    const [first, later] = costs ? [OFTEN_MS, OFTEN_MS] : [FIRST_LOOK_MS, LOOK_MS];
    if (soFar && now() >= (last === null ? begun + first : last + later) && (!costs || isSeen())) {
      onCourse(done, soFar(), costs);
      last = now();
    } else onCourse(done);
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
