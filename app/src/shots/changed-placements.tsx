import { Alert, App, Button } from 'antd';
import { keepPreviousData, useQuery } from '@tanstack/react-query';
import pMap from 'p-map';
import { useState } from 'react';
import { usePantry } from '../store/action-queries.ts';
import { changedSince } from '../store/changed-actions.ts';
import { leaveAlone, useLeftAlone } from '../store/left-alone.ts';
import type { ChangedAction } from '../store/changed-actions.ts';
import type { PantryItem } from '../store/pantry-record.ts';
import { placedOf } from '../store/shot-index.ts';
import { HeldElsewhere, useRenewStored } from '../store/shot-queries.ts';
import type { ShotHead } from '../store/shot-record.ts';
import { storageProblem } from '../store/storage.ts';

/** Heads that are read at once, where they do not know what is placed. */
const AT_ONCE = 4;
/** Shots that are named; of the others the number is said. */
const MOST_NAMED = 4;

interface ChangedShot {
  readonly head: ShotHead;
  readonly changed: readonly ChangedAction<PantryItem>[];
}

const LISTED = new Intl.ListFormat('en-GB');

/** Shots in which an action is placed that is another in the pantry by now. */
function useChangedShots(heads: readonly ShotHead[]): ChangedShot[] {
  const { data: pantry = [] } = usePantry();
  const left = useLeftAlone((state) => state.left);
  const { data: placed } = useQuery({
    queryKey: ['placed', heads.map(({ id, savedAt }) => `${id} ${savedAt}`)],
    queryFn: async () =>
      new Map(
        await pMap(heads, async (head) => [head.id, await placedOf(head)] as const, { concurrency: AT_ONCE }),
      ),
    enabled: pantry.length > 0 && heads.length > 0,
    placeholderData: keepPreviousData,
  });
  return heads.flatMap((head) => {
    const changed = changedSince(pantry, placed?.get(head.id) ?? [], left[head.id]);
    return changed.length > 0 ? [{ head, changed }] : [];
  });
}

/** Placed actions that have changed in the pantry, in shots that are not open: renewed here, or left as they are. */
export function ChangedPlacements({ heads }: { readonly heads: readonly ShotHead[] }) {
  const found = useChangedShots(heads);
  const renew = useRenewStored();
  const { notification } = App.useApp();
  const [isRenewing, setRenewing] = useState(false);
  if (found.length === 0) return null;

  const renewAll = async () => {
    setRenewing(true);
    let [shots, blocks] = [0, 0];
    const stayed: string[] = [];
    // One after the other: each is worked out and stored before the next is read.
    for (const { head, changed } of found) {
      try {
        const done = await renew.mutateAsync({ id: head.id, changed });
        if (done.blocks > 0) shots += 1;
        blocks += done.blocks;
        stayed.push(...done.refusals.map((sentence) => `${head.name}: ${sentence}`));
      } catch (error) {
        const why =
          error instanceof HeldElsewhere
            ? 'It is open in another tab: renew it there.'
            : storageProblem(error);
        stayed.push(`${head.name}: ${why}`);
      }
    }
    setRenewing(false);
    const title =
      `${blocks === 1 ? '1 block' : `${blocks} blocks`} in ${shots === 1 ? '1 shot' : `${shots} shots`} renewed` +
      (stayed.length > 0 ? `, ${stayed.length} not` : '');
    notification[stayed.length > 0 ? 'warning' : 'success']({
      title,
      description: stayed.join(' ') || 'Undo in a shot brings back what was placed.',
      duration: stayed.length > 0 ? 0 : 8,
    });
  };
  const leaveAll = () =>
    found.forEach(({ head, changed }) => changed.forEach(({ kept }) => leaveAlone(head.id, kept.print)));

  const names = [
    ...new Set(found.flatMap(({ changed }) => changed.map(({ item }) => `“${item.action.name}”`))),
  ];
  const isOne = names.length === 1;
  const named = found.slice(0, MOST_NAMED).map(({ head }) => head.name);
  const more = found.length - named.length;
  const where = LISTED.format(more > 0 ? [...named, `${more} more`] : named);
  return (
    <Alert
      type="info"
      showIcon
      className="changed-placements"
      title={`${LISTED.format(names)} ${isOne ? 'has' : 'have'} changed in the pantry since ${isOne ? 'it was' : 'they were'} placed in ${where}.`}
      action={
        <>
          <Button size="small" loading={isRenewing} onClick={() => void renewAll()}>
            {found.length === 1 ? 'Renew' : `Renew in ${found.length} shots`}
          </Button>
          <Button size="small" type="text" disabled={isRenewing} onClick={leaveAll}>
            Leave as placed
          </Button>
        </>
      }
    />
  );
}
