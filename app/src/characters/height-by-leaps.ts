import { useQuery } from '@tanstack/react-query';
import { findContacts, flightsOf, unitByFlights } from '@kneader/core';
import type { Shot } from '@kneader/core';

/** How many cm a unit of a character's numbers is, as its own leaps fall; null where they do not say, or while that is being found. */
export function useUnitByLeaps(shot: Shot, character: string | null, stands: number): number | null {
  const told = useQuery({
    queryKey: ['size by flights', character, shot.name, shot.range, stands],
    enabled: character !== null,
    queryFn: () => {
      const { points, stands: spans } = findContacts(shot, character);
      return points.length === 0 ? null : unitByFlights(shot, flightsOf(shot, character, spans.flat()));
    },
  });
  return told.data ?? null;
}
