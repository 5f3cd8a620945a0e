/** The comparison of two sides: worked out in the worker, the latest only. */
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { alignedAt } from '@kneader/core';
import type { Alignment, Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { saidAlignment } from '../../worker/compared-shots.ts';
import type { Compared, CompareHow } from '../../worker/compared-shots.ts';
import { numberOf } from '../shot-number.ts';
import { useCompare } from './compare-store.ts';

export interface Comparing {
  readonly compared: Compared | null;
  /** What the stage goes by, while the rest is still being worked out too. */
  readonly alignment: Alignment | null;
  readonly problem: string | null;
  readonly isBusy: boolean;
}

export function useCompared(a: Shot | null, b: Shot | null): Comparing {
  const by = useCompare((state) => state.by);
  const at = useCompare((state) => state.at);
  const beside = useCompare((state) => state.beside);
  const from = useCompare((state) => state.from);
  const how = useMemo(
    (): CompareHow | null => a && b && { by, at: at ?? a.range.start, beside: beside ?? b.range.start, from },
    [a, b, by, at, beside, from],
  );
  const { data, error, isFetching } = useQuery({
    queryKey: ['compared', a && numberOf(a), b && numberOf(b), how],
    queryFn: () => bridge.compared(a!, b!, how!),
    enabled: how !== null,
    // Tables of thousands of frames: only what is looked at.
    gcTime: 0,
    structuralSharing: false,
  });
  const compared = data && !('refusal' in data) ? data : null;
  const alignment = useMemo(() => {
    if (!a || !b || !how) return null;
    if (compared) return compared.alignment;
    try {
      if (how.by !== 'time') return saidAlignment(a, b, how);
    } catch {
      // Marks that one of them lacks: said by the worker's answer.
    }
    return alignedAt(a, b, a.range.start, b.range.start);
  }, [a, b, how, compared]);
  const problem = data && 'refusal' in data ? data.refusal.sentence : error ? String(error) : null;
  return { compared, alignment, problem, isBusy: isFetching };
}
