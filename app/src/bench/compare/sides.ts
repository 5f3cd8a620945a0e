/** What can stand on a side of a comparison, and how an address names it: `now`, `before`, `variant:ID`, `step:3`, `shot:ID`, `action:ID`. */
import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { variantsOf, withVariant } from '@kneader/core';
import type { Session, Shot } from '@kneader/core';
import { bridge } from '../../bridge/bridge.ts';
import { usePantry } from '../../store/action-queries.ts';
import { openShot, useShotList } from '../../store/shot-queries.ts';
import { useBench } from '../bench-store.ts';

export interface Side {
  /** Null while it is fetched, and where there is none. */
  readonly shot: Shot | null;
  readonly name: string;
  /** Why there is none. */
  readonly problem: string | null;
}

export interface SideChoice {
  readonly label: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
}

/** Steps of the history that can be chosen; the latest. */
const MOST_STEPS = 100;

/** All that can be chosen, in groups. */
export function useSideChoices(): readonly SideChoice[] {
  const id = useBench((state) => state.id);
  const session = useBench((state) => state.session);
  const shots = useShotList().data?.heads;
  const actions = usePantry().data;
  return useMemo(() => {
    const steps = session.steps.map(({ label }, i) => ({ value: `step:${i}`, label: `${i}. ${label}` }));
    const groups = [
      {
        label: 'This shot',
        options: [
          { value: 'now', label: 'Now' },
          { value: 'before', label: 'Before' },
          ...variantsOf(session.shot).map(({ id: own, name }) => ({
            value: `variant:${own}`,
            label: `Variant ${name}`,
          })),
        ],
      },
      { label: 'Steps of its history', options: steps.slice(-MOST_STEPS).reverse() },
      {
        label: 'Other shots',
        options: (shots ?? [])
          .filter((one) => one.id !== id)
          .map((one) => ({ value: `shot:${one.id}`, label: one.name })),
      },
      {
        label: 'Actions, on this figure',
        options: (actions ?? []).map((one) => ({ value: `action:${one.id}`, label: one.action.name })),
      },
    ];
    return groups.filter(({ options }) => options.length > 0);
  }, [session, shots, actions, id]);
}

/** What of this session a side shows; undefined where it lies elsewhere. */
function ownSide(session: Session, kind: string, which: string): Side | undefined {
  const gone = (problem: string): Side => ({ shot: null, name: 'Gone', problem });
  switch (kind) {
    case 'now':
      return { shot: session.shot, name: 'Now', problem: null };
    case 'before':
      return { shot: session.before, name: 'Before', problem: null };
    case 'variant': {
      const variant = variantsOf(session.shot).find(({ id }) => id === which);
      if (!variant) return gone('There is no such variant any more.');
      return { shot: withVariant(session.shot, variant), name: variant.name, problem: null };
    }
    case 'step': {
      const step = session.steps[Number(which)];
      return step
        ? { shot: step.shot, name: step.label, problem: null }
        : gone('The history has no such step any more.');
    }
  }
  return undefined;
}

/** A side by its name in the address. */
export function useSide(name: string): Side {
  const session = useBench((state) => state.session);
  const [kind = '', which = ''] = name.split(/:(.*)/s);
  const own = useMemo(() => ownSide(session, kind, which), [session, kind, which]);
  const actions = usePantry().data;
  const action = kind === 'action' ? actions?.find(({ id }) => id === which)?.action : undefined;
  const elsewhere = useQuery({
    queryKey: ['compared side', name, action?.name],
    queryFn: async (): Promise<Side> => {
      if (kind === 'shot') {
        const record = await openShot(which);
        if (!record)
          return {
            shot: null,
            name: 'Gone',
            problem: 'There is no such shot here: it was removed, or it is in another browser.',
          };
        return { shot: record.session.shot, name: record.session.shot.name, problem: null };
      }
      if (!action)
        return { shot: null, name: 'Gone', problem: 'There is no such action in the pantry any more.' };
      const made = await bridge.actionOn(useBench.getState().session.shot, action);
      return 'shot' in made
        ? { shot: made.shot, name: action.name, problem: null }
        : { shot: null, name: action.name, problem: made.refusal.sentence };
    },
    enabled: own === undefined && (kind === 'shot' || (kind === 'action' && actions !== undefined)),
    gcTime: 0,
  });
  if (own) return own;
  if (kind !== 'shot' && kind !== 'action')
    return { shot: null, name: 'Nothing', problem: 'The address names nothing that can be compared.' };
  const problem = elsewhere.error ? String(elsewhere.error) : null;
  return elsewhere.data ?? { shot: null, name: '…', problem };
}
