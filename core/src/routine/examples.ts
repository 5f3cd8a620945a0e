/** Routines that ship: each a way of work that comes back in every shot, to be run as it is or changed. */
import type { Role } from './roles.ts';
import { ROUTINE_VERSION } from './routine.ts';
import type { Routine, RoutineStep } from './routine.ts';

const step = (
  edit: string,
  options: Record<string, unknown> = {},
  on: RoutineStep['on'] = 'selection',
  roles: readonly Role[] = [],
): RoutineStep => ({
  edit,
  options,
  on,
  recorded: {
    nodes: [],
    channels: [],
    range: null,
    pass: null,
    ...(roles.length > 0 && { roles: [...roles] }),
  },
  made: [],
});
const routine = (name: string, notes: string, steps: readonly RoutineStep[]): Routine => ({
  format: 'kneader-routine',
  version: ROUTINE_VERSION,
  name,
  notes,
  steps,
});
const both = (part: Role['part']): Role[] => [
  { part, side: 'left' },
  { part, side: 'right' },
];

export const ROUTINE_EXAMPLES: readonly Routine[] = [
  routine(
    'Clean a capture',
    'Angles that jump are joined, spikes and noise go, then as few keys as keep within 2 mm and 1°.',
    [
      step('clean.unwrap'),
      step('clean.smooth', { method: 'spikes' }),
      step('clean.smooth', { method: 'lowPass' }),
      step('clean.thin', { measure: 'space', space: 0.2 }),
    ],
  ),
  routine(
    'Blocking to spline on twos',
    'Every pose gets all of its keys, steps become curves that pass the poses without overshoot, and keys stand on every second frame.',
    [
      step('timing.completeColumns', {}, 'everything'),
      step('timing.toSpline', {}, 'everything'),
      step('clean.resample', { every: 2 }, 'everything'),
    ],
  ),
  routine(
    'Calm the arms',
    'Noise of the arms and hands alone, whoever they belong to; all else stays as it is.',
    [
      step('clean.smooth', { method: 'lowPass' }, 'roles', [...both('arm'), ...both('hand')]),
      step('clean.thin', { rotation: 0.5 }, 'roles', [...both('arm'), ...both('hand')]),
    ],
  ),
  routine('Close a loop', 'The last frame becomes the first again, and the cycle runs on.', [
    step('timing.loop', {}, 'everything'),
  ]),
  routine('Feet that stand', 'Where feet stand is found, and they are held there.', [
    step('contacts.find', {}, 'everything'),
    step('contacts.hold', {}, 'everything'),
  ]),
  routine(
    'Tidy up',
    'Keys between frames go onto frames, keys that change nothing go, and empty passes go.',
    [
      step('clean.snap', {}, 'everything'),
      step('clean.dropRedundant', {}, 'everything'),
      step('passes.removeEmpty', {}, 'everything'),
    ],
  ),
];
