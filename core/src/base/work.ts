/**
 * Long work, done in slices: a generator that yields how far it has come and returns its result. Whoever drives it may leave
 * between two slices; nothing is changed until it returns.
 */

/** How far a piece of work has come. */
export interface Course<SoFar = never> {
  /** Share that is done, 0…1; it never falls. */
  readonly done: number;
  /** Makes what stands already, for those who want to look at it; left out where nothing of it would stay. */
  readonly soFar?: () => SoFar;
  /** Of what goes down step by step: what each step came to, as part of the first; it is looked at often. */
  readonly costs?: readonly number[];
}

/** Work whose result is a `Result`; what stands of it on the way is a `SoFar`. */
export type Work<Result, SoFar = never> = Generator<Course<SoFar>, Result, void>;

/** Does the work at one go. */
export function finish<Result>(work: Work<Result, unknown>): Result {
  let step = work.next();
  while (!step.done) step = work.next();
  return step.value;
}

/** The work as a part of a longer one: its course runs from `from` to `to`. What it has so far need not stay, and is not shown. */
export function* asPart<Result>(work: Work<Result, unknown>, from: number, to: number): Work<Result> {
  let left = true;
  try {
    for (let step = work.next(); ; step = work.next()) {
      if (step.done) {
        left = false;
        return step.value;
      }
      yield { done: from + (to - from) * step.value.done };
    }
  } finally {
    if (left) work.return(undefined as never);
  }
}
