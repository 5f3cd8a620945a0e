/** Remove time: a range goes, and what comes after it follows what came before. */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { timeTakenOut } from '../../base/time-map.ts';
import { retimeShot } from '../../document/retime.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { repeatsOption } from '../shared/repeats-option.ts';
import { channelsIn, rangeIn, retimedFindings, scopeOption } from './scope.ts';

export const removeTime = defineEdit({
  id: 'timing.removeTime',
  title: 'Remove time',
  summary: 'Takes the selected range out; what comes after it moves up.',
  words: 'cut delete frames ripple shorten trim',
  group: 'timing',
  locks: 'none',
  options: z.object({ scope: scopeOption, repeats: repeatsOption }),
  run(shot, selection, { scope, repeats }) {
    if (!selection.range)
      return refused(shot, selection, finding('nothingSelected', {}, 'a range on the ruler'));
    const { start, end } = rangeIn(shot, selection);
    const channels = channelsIn(shot, selection, scope);
    const changes = retimeShot(shot, timeTakenOut({ start, end }), { channels, repeats });
    const findings = retimedFindings(changes);
    if (changes.gone > 0) findings.push(finding('keysGone', {}, changes.gone, 'in the time that is removed'));
    return outcome(
      shot,
      changes.shot,
      { ...selection, range: null },
      {
        touched: changes.touched,
        time: changes.pieces,
        findings,
        measures: [
          { name: 'frames removed', value: end - start, unit: '' },
          { name: 'keys that go', value: changes.gone, unit: '' },
          { name: 'shot ends at', before: shot.range.end, value: changes.shot.range.end, unit: 'frame' },
        ],
      },
    );
  },
});
