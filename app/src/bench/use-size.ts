import { useEffect, useState } from 'react';
import type { RefObject } from 'react';

/** The size of an element in CSS pixels, as it changes. */
export function useSize(element: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const target = element.current;
    if (!target) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: target.clientWidth, height: target.clientHeight }),
    );
    observer.observe(target);
    return () => observer.disconnect();
  }, [element]);
  return size;
}
