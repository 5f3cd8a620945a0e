import { Button, InputNumber } from 'antd';
import { useMemo, useState } from 'react';
import { bodyOf } from '@kneader/core';
import { useUnitByLeaps } from '../characters/height-by-leaps.ts';
import { bench, useBench } from './bench-store.ts';

/** cm between which a figure may well stand as its numbers say. */
const [SHORT, TALL] = [60, 260];
const UNITS = [
  ['inches', 2.54],
  ['metres', 100],
  ['millimetres', 0.1],
] as const;

/** A figure whose numbers can hardly be cm: how tall it is is asked, since gravity needs to know; whatever is answered, it is asked no more. */
export function HeightNotice() {
  const shot = useBench((state) => state.session.shot);
  const [left, setLeft] = useState(false);
  const asked = useMemo(
    () =>
      shot.characters.flatMap(({ id, name, height }) => {
        if (height !== undefined) return [];
        const { stands, limbs } = bodyOf(shot, id);
        return limbs && stands > 0 && (stands < SHORT || stands > TALL) ? [{ id, name, stands }] : [];
      })[0],
    [shot],
  );
  const unit = useUnitByLeaps(shot, asked?.id ?? null, asked?.stands ?? 0);
  if (!asked || left) return null;
  const { id, name, stands } = asked;
  const take = (height: number) =>
    bench.perform('motion.setHeight', { character: id, height: Number(height.toPrecision(4)) });
  const fits = UNITS.filter(([, cm]) => stands * cm >= SHORT && stands * cm <= TALL);
  return (
    <p className="bench-notice" role="status">
      <span>
        {name} stands {Number(stands.toPrecision(3))} high: how tall is that, for gravity?
      </span>
      {unit !== null && (
        <Button size="small" onClick={() => take(stands * unit)}>
          {(stands * unit).toFixed(0)} cm, by its own leaps
        </Button>
      )}
      {fits.map(([word, cm]) => (
        <Button key={word} size="small" onClick={() => take(stands * cm)}>
          {(stands * cm).toFixed(0)} cm, in {word}
        </Button>
      ))}
      <InputNumber
        size="small"
        aria-label={`How tall ${name} stands, cm`}
        placeholder="other"
        suffix="cm"
        min={0.1}
        max={100_000}
        onPressEnter={({ currentTarget }) => {
          const height = Number(currentTarget.value);
          if (height > 0) take(height);
        }}
      />
      <Button size="small" type="text" onClick={() => take(stands)}>
        {Number(stands.toPrecision(3))} cm, as its numbers say
      </Button>
      <Button size="small" type="text" onClick={() => setLeft(true)}>
        Later
      </Button>
    </p>
  );
}
