import { useEffect } from 'react';

/** While something is under way the browser asks before the page is left. */
export function useAskedBeforeLeaving(isPending: boolean): void {
  useEffect(() => {
    if (!isPending) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [isPending]);
}
