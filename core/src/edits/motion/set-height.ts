/** How tall a character stands: beside what its numbers say, or by making them say it. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import type { Finding } from '../../base/finding.ts';
import { bodyOf } from '../../bodies/body-of.ts';
import { findContacts } from '../../bodies/found-contacts.ts';
import { flightsOf, unitByFlights } from '../../bodies/flights.ts';
import type { Shot } from '../../document/shot.ts';
import { rescaledCharacter } from '../clean/rescale.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { characterOption, meantCharacter, nameOfCharacter } from '../shared/meant-character.ts';
import { whichCharacter } from '../shared/targets.ts';

export const setHeight = defineEdit({
  id: 'motion.setHeight',
  title: 'Set height',
  summary: 'Says how tall a character stands, so that gravity fits its size; its own leaps say what that is.',
  words: 'size unit scale gravity tall cm inch metre dwarf giant',
  group: 'motion',
  locks: 'none',
  options: z.object({
    character: characterOption(),
    height: z.number().min(0.1).max(100_000).nullable().default(null).meta({
      title: 'Height',
      unit: 'cm',
      step: 1,
      description: 'How tall it stands; null: as its numbers say.',
    }),
    how: z
      .enum(['say', 'rescale'])
      .default('say')
      .meta({
        title: 'How',
        labels: { say: 'only say it', rescale: 'rescale' },
        description: 'Its numbers stay and count as that tall; or the whole character is made that tall.',
      }),
  }),
  run(shot, selection, { character, height, how }) {
    const chosen = meantCharacter(shot, selection, character);
    if (chosen === null || !shot.characters.some(({ id }) => id === chosen))
      return refused(shot, selection, whichCharacter(shot));
    const name = nameOfCharacter(shot, chosen);
    const { stands } = bodyOf(shot, chosen);
    if (!(stands > 0)) return refused(shot, selection, finding('noHeight', {}, name));
    if (how === 'rescale' && height !== null) {
      const rescaled = rescaledCharacter(withHeight(shot, chosen, null), selection, chosen, height / stands);
      // Refused, the height that was said before stays said.
      return rescaled.report.status === 'refused'
        ? refused(shot, selection, ...rescaled.report.findings)
        : rescaled;
    }
    const after = withHeight(shot, chosen, height);
    const { unit } = bodyOf(after, chosen);
    return outcome(shot, after, selection, {
      findings: [finding('standsTall', {}, name, stands, unit), ...byFlights(shot, chosen, name, stands)],
      measures: [{ name: 'a unit', value: unit, unit: 'cm', before: bodyOf(shot, chosen).unit }],
    });
  },
});

function withHeight(shot: Shot, character: string, height: number | null): Shot {
  const before = shot.characters.find(({ id }) => id === character)?.height ?? null;
  if (before === height) return shot;
  const characters = shot.characters.map((one) => {
    if (one.id !== character) return one;
    const { height: _, ...rest } = one;
    return height === null ? rest : { ...rest, height };
  });
  return { ...shot, characters };
}

/** What its own leaps say. */
function byFlights(shot: Shot, character: string, name: string, stands: number): Finding[] {
  const { stands: spans, points } = findContacts(shot, character);
  const flights = points.length > 0 ? flightsOf(shot, character, spans.flat()) : [];
  const unit = unitByFlights(shot, flights);
  return unit === null ? [] : [finding('sizeByFlights', {}, name, unit, unit * stands, flights.length)];
}
