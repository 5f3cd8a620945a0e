/** Settings, name, colour, mute, solo, lock and range of a filter. */
import { z } from 'zod';
import { defineEdit } from '../edit.ts';
import { saidOf } from './filter-findings.ts';
import { setUp, setUpOptions } from '../shared/set-up.ts';
import { checkedSettings, filterOption, knownFilter, openFilter } from './filter-option.ts';

export const setFilter = defineEdit({
  id: 'filters.set',
  title: 'Set up filter',
  summary: 'Turns what a filter does; names, colours, mutes, solos, locks or confines it.',
  words: 'procedural modifier settings frequency damping seed amount mute range',
  group: 'filters',
  locks: 'none',
  options: z.object({
    filter: filterOption,
    ...setUpOptions,
    settings: z
      .record(z.string(), z.unknown())
      .optional()
      .meta({ title: 'Settings', description: 'Those that change, as the kind takes them.' }),
  }),
  run(shot, selection, { filter: id, settings, ...given }) {
    // Setting up works on what is locked; what it does is not turned then.
    const filter = settings === undefined ? knownFilter(shot, id) : openFilter(shot, id);
    const done = setUp(shot, selection, filter, {
      ...given,
      ...(settings && { settings: checkedSettings(shot, filter.kind, filter.settings, settings) }),
    });
    // What goes round is said where it is turned on or off, not at each step of a slider.
    const after = done.shot.layers.find((layer) => layer.id === id);
    if (!after || settings?.['loop'] === undefined || settings['loop'] === filter.settings['loop'])
      return done;
    return {
      ...done,
      report: { ...done.report, findings: [...done.report.findings, ...saidOf(done.shot, after)] },
    };
  },
});
