import { laneLayout, useLaneLayout } from './lane-layout.ts';
import type { LaneId } from './lane-layout.ts';

interface LaneSwitchProps {
  readonly id: LaneId;
  readonly name: string;
  readonly title: string;
}

/** Shows a lane that is not always there, or takes it away. */
export function LaneSwitch({ id, name, title }: LaneSwitchProps) {
  const on = useLaneLayout((layout) => layout.shown?.includes(id) === true);
  return (
    <button
      type="button"
      className={`chip${on ? ' on' : ''}`}
      aria-pressed={on}
      title={title}
      onClick={() => laneLayout.show(id, !on)}
    >
      {name}
    </button>
  );
}
