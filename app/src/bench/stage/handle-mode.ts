/** What the handle on the stage does where a control can both be moved and be turned, and about what several controls turn. */
import { create } from 'zustand';
import { persist } from 'zustand/middleware';

interface HandleMode {
  /** null: goals, props and hips are moved, joints are turned. */
  readonly does: 'move' | 'turn' | null;
  readonly about: 'middle' | 'each';
}

export const useHandleMode = create<HandleMode>()(
  persist((): HandleMode => ({ does: null, about: 'middle' }), { name: 'kneader-handle' }),
);

export function setHandle(mode: Partial<HandleMode>): void {
  useHandleMode.setState(mode);
}
