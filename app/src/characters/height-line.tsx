import { Button, InputNumber } from 'antd';
import { bodyOf } from '@kneader/core';
import type { Shot } from '@kneader/core';
import { useUnitByLeaps } from './height-by-leaps.ts';

interface HeightLineProps {
  readonly shot: Shot;
  readonly id: string;
  readonly name: string;
  readonly onChange: (options: { readonly height: number | null; readonly how?: 'rescale' }) => void;
}

/** How tall a character stands, what its own leaps say of that, and a field to set it. */
export function HeightLine({ shot, id, name, onChange }: HeightLineProps) {
  const { stands, unit } = bodyOf(shot, id);
  const byFlights = useUnitByLeaps(shot, id, stands);
  if (!(stands > 0)) return null;
  const set = shot.characters.find((one) => one.id === id)?.height !== undefined;
  return (
    <p className="facing">
      <b>{name}</b> stands
      <InputNumber
        size="small"
        aria-label={`How tall ${name} stands, cm`}
        style={{ width: 104, margin: '0 6px' }}
        min={0.1}
        max={100_000}
        suffix="cm"
        value={Number((stands * unit).toFixed(1))}
        onChange={(value) => {
          if (value !== null) onChange({ height: value });
        }}
      />
      tall, {set ? `as set: a unit counts as ${Number(unit.toPrecision(4))} cm.` : 'as the numbers say.'}
      {set && (
        <>
          <Button size="small" type="link" onClick={() => onChange({ height: null })}>
            As the numbers say
          </Button>
          <Button
            size="small"
            type="link"
            title="The whole character is made that large, with its motion"
            onClick={() => onChange({ height: stands * unit, how: 'rescale' })}
          >
            Rescale to it
          </Button>
        </>
      )}
      {byFlights !== null && Math.abs(byFlights / unit - 1) > 0.03 && (
        <>
          {' '}
          By its own leaps it is {(stands * byFlights).toFixed(0)} cm tall.
          <Button size="small" type="link" onClick={() => onChange({ height: stands * byFlights })}>
            Take that
          </Button>
        </>
      )}
    </p>
  );
}
