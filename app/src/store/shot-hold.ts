/** Which tab works on a shot: the one that holds the shot's lock. Another one is told, and may take it over. */
export interface ShotHold {
  /** Lets go. */
  readonly release: () => void;
  /** Takes the lock from whoever has it. */
  readonly takeOver: () => void;
}

interface Told {
  /** This tab has it. */
  readonly onHeld: () => void;
  /** Another tab has it already. */
  readonly onTaken: () => void;
  /** Another tab took it over. */
  readonly onLost: () => void;
}

/** Does something with a shot that no other tab has at hand; null where one has it. */
export const whileHeld = <Result>(id: string, act: () => Promise<Result>): Promise<Result | null> =>
  navigator.locks.request(lockOf(id), { ifAvailable: true }, (lock) => (lock === null ? null : act()));

const lockOf = (id: string) => `kneader-shot-${id}`;

export function holdShot(id: string, { onHeld, onTaken, onLost }: Told): ShotHold {
  const name = lockOf(id);
  let release: () => void = () => undefined;
  let left = false;
  const held = () => new Promise<void>((resolve) => (release = resolve));
  const request = (options: LockOptions) => {
    void navigator.locks
      .request(name, options, (lock) => {
        if (left) return;
        if (lock === null) return onTaken();
        onHeld();
        return held();
      })
      .catch(() => {
        if (!left) onLost();
      });
  };
  request({ ifAvailable: true });
  return {
    release: () => {
      left = true;
      release();
    },
    takeOver: () => request({ steal: true }),
  };
}
