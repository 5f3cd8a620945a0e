import { useVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState } from 'react';
import type { ComponentType } from 'react';
import { useSize } from '../bench/use-size.ts';
import type { ShotHead } from '../store/shot-record.ts';

/** A card and the gap beside it, pixels. */
const [NARROWEST, GAP] = [264, 16];

/** What scrolls. */
const pageOf = (element: HTMLElement | null) => element?.closest<HTMLElement>('.page') ?? null;

interface CardRowsProps {
  readonly heads: readonly ShotHead[];
  readonly card: ComponentType<{ readonly head: ShotHead }>;
  /** About how tall a card is, pixels. */
  readonly tall: number;
}

/** A card for each shot, in rows, as they scroll with the page; only those in sight are made. */
export function CardRows({ heads, card: Card, tall }: CardRowsProps) {
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const across = Math.max(1, Math.floor((width + GAP) / (NARROWEST + GAP)));
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    const [page, own] = [pageOf(holder.current), holder.current];
    if (page && own)
      setTop(own.getBoundingClientRect().top - page.getBoundingClientRect().top + page.scrollTop);
  }, [heads.length]);
  const rows = useVirtualizer({
    getScrollElement: () => pageOf(holder.current),
    count: width === 0 ? 0 : Math.ceil(heads.length / across),
    estimateSize: () => tall + GAP,
    overscan: 1,
    scrollMargin: top,
    useFlushSync: false,
    useScrollendEvent: true,
  });
  return (
    <div ref={holder} style={{ height: Math.max(0, rows.getTotalSize() - GAP), position: 'relative' }}>
      {rows.getVirtualItems().map(({ index, start }) => (
        <div
          key={index}
          ref={rows.measureElement}
          data-index={index}
          className="shot-row"
          style={{
            transform: `translateY(${start - top}px)`,
            gridTemplateColumns: `repeat(${across}, 1fr)`,
          }}
        >
          {heads.slice(index * across, (index + 1) * across).map((head) => (
            <Card key={head.id} head={head} />
          ))}
        </div>
      ))}
    </div>
  );
}
