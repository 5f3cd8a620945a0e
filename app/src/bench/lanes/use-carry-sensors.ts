import { KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';

/** How lanes and passes are carried: by the pointer after a few pixels; by keyboard with Enter, since Space means playing. */
export const useCarrySensors = () =>
  useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, {
      coordinateGetter: sortableKeyboardCoordinates,
      keyboardCodes: { start: ['Enter'], cancel: ['Escape'], end: ['Enter'] },
    }),
  );
