import type { RoutineStep } from '@kneader/core';

/** On what a step is done, as it is chosen and as it is read. */
export const ON_CHOICES: readonly { readonly value: RoutineStep['on']; readonly label: string }[] = [
  { value: 'selection', label: 'on what is selected' },
  { value: 'roles', label: 'on the same body parts' },
  { value: 'everything', label: 'on everything' },
  { value: 'recorded', label: 'as recorded' },
];

export const onWords = (on: RoutineStep['on']): string => ON_CHOICES.find(({ value }) => value === on)!.label;
