import { Select } from 'antd';
import { useBench } from '../bench-store.ts';

interface ControlsSelectProps {
  readonly label: string;
  /** Whether the world may be named, too. */
  readonly world?: boolean;
  readonly value: readonly string[];
  readonly onChange: (value: string[]) => void;
}

/** Some of the shot's controls, by name. */
export function ControlsSelect({ label, world = false, value, onChange }: ControlsSelectProps) {
  const nodes = useBench((state) => state.session.shot.nodes);
  return (
    <Select
      mode="multiple"
      size="small"
      placeholder="no control"
      aria-label={label}
      maxTagCount="responsive"
      value={[...value]}
      onChange={onChange}
      options={[
        ...(world ? [{ value: 'world', label: 'the world' }] : []),
        ...nodes
          .filter((node) => node.channels.length > 0 || world)
          .map(({ id }) => ({ value: id, label: id })),
      ]}
    />
  );
}
