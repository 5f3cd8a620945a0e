import { Button } from 'antd';
import type { Node } from '@kneader/core';

interface SignsCellProps {
  readonly control: Node;
  readonly onChange: (signs: Record<string, 1 | -1> | null) => void;
}

/** The flip signs of a control: as computed, or a switch for each channel. */
export function SignsCell({ control, onChange }: SignsCellProps) {
  const { id, flipSigns, channels } = control;
  const turns = channels.filter((name) => /^[tr][xyz]$/.test(name));
  if (!flipSigns)
    return (
      <Button
        size="small"
        type="text"
        onClick={() => onChange(Object.fromEntries(turns.map((name) => [name, usualSign(name)])))}
      >
        from the rest pose
      </Button>
    );
  return (
    <span className="signs" role="group" aria-label={`Signs of ${id}`}>
      {turns.map((name) => (
        <button
          key={name}
          type="button"
          className={`chip${flipSigns[name] === -1 ? ' on' : ''}`}
          aria-pressed={flipSigns[name] === -1}
          onClick={() => onChange({ ...flipSigns, [name]: flipSigns[name] === -1 ? 1 : -1 })}
        >
          {flipSigns[name] === -1 ? '−' : '+'}
          {name}
        </button>
      ))}
      <Button size="small" type="link" onClick={() => onChange(null)}>
        compute
      </Button>
    </span>
  );
}

/** A reflection in the YZ plane where axes lie along the world's. */
const usualSign = (name: string): 1 | -1 => (['tx', 'ry', 'rz'].includes(name) ? -1 : 1);
