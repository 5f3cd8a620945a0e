import { useSyncExternalStore } from 'react';

/** As `bench.css` has it: a window, or one that is magnified, where the four parts of the bench do not fit beside each other. */
const SMALL = '(max-width: 899px), (max-height: 519px)';

const query = () => window.matchMedia(SMALL);
const listen = (changed: () => void) => {
  const small = query();
  small.addEventListener('change', changed);
  return () => small.removeEventListener('change', changed);
};

export const useIsSmall = (): boolean => useSyncExternalStore(listen, () => query().matches);
