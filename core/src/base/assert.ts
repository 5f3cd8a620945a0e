/**
 * Broken invariants throw. What a user can put right never throws through this: see `InputError`.
 */

/** A defect in Kneader itself: some code broke a rule that the types cannot state. */
export class InvariantError extends Error {
  override readonly name = 'InvariantError';
}

/** Throws an `InvariantError` unless `condition` holds. */
export function assert(condition: unknown, rule: string): asserts condition {
  if (!condition) throw new InvariantError(rule);
}

/** `value`, which must be there: for look-ups that an invariant guarantees. */
export function present<T>(value: T | null | undefined, what: string): T {
  if (value === null || value === undefined) throw new InvariantError(`${what} is missing`);
  return value;
}
