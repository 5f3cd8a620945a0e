/** The bench comes when it is asked for, or in a quiet moment before. */
export const loadBench = () => import('../bench/bench-page.tsx');

/** Fetches the bench once the page has nothing else to do; returns how to leave it. */
export function fetchBenchInPeace(): () => void {
  const asked = requestIdleCallback(() => void loadBench(), { timeout: 2000 });
  return () => cancelIdleCallback(asked);
}
