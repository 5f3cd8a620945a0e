import { useEffect, useState } from 'react';
import { useBench } from '../bench-store.ts';
import { saidBy } from './said.ts';
import type { Said } from './said.ts';

/** How long it is seen; it is spoken once. */
const SEEN_MS = 1800;

/** What was said last, for as long as it is seen. */
export function useSaid(): (Said & { readonly at: number }) | null {
  const [said, setSaid] = useState<(Said & { readonly at: number }) | null>(null);
  useEffect(
    () =>
      useBench.subscribe((now, was) => {
        const next = saidBy(was, now);
        if (next) setSaid({ ...next, at: performance.now() });
      }),
    [],
  );
  useEffect(() => {
    if (!said) return;
    const timer = window.setTimeout(() => setSaid(null), SEEN_MS);
    return () => window.clearTimeout(timer);
  }, [said]);
  return said;
}

/** The one place from which changes are spoken, when there is a pause; a refusal is an alert where it is shown. */
export const Spoken = ({ said }: { readonly said: Said | null }) => (
  <span className="only-spoken" aria-live="polite">
    {said && !said.isRefusal ? said.sentence : ''}
  </span>
);
