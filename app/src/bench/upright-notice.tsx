import { Button } from 'antd';
import { useMemo } from 'react';
import { standsIf, uprightOf } from '@kneader/core';
import type { Upright } from '@kneader/core';
import { leaveAlone, useLeftAlone } from '../store/left-alone.ts';
import { bench, useBench } from './bench-store.ts';

const LIES = 'lies: ';
/** Three figures at most. */
const high = (units: number) => Number(units.toPrecision(3)).toLocaleString('en');

/** A character that lies since its file has another axis up: it is stood upright, or lies on purpose. */
export function UprightNotice() {
  const shot = useBench((state) => state.session.shot);
  const id = useBench((state) => state.id);
  const left = useLeftAlone((state) => state.left[id]);
  const { nodes, characters, relations } = shot;
  const lying = useMemo(
    () =>
      characters.flatMap((one) => {
        const up = uprightOf(shot, one.id);
        return up === null || up === '+y' ? [] : [{ ...one, up }];
      }),
    // Its rest says it; its poses are asked once.
    [nodes, characters, relations], // eslint-disable-line react-hooks/exhaustive-deps
  );
  const found = lying.find((one) => !left?.includes(LIES + one.id));
  if (!found) return null;
  const { id: character, name, up } = found;
  return (
    <p className="bench-notice" role="status">
      <span>
        {name} lies: {axisOf(up)} is up in its file. Upright it stands {high(standsIf(shot, character, up))}{' '}
        high; as it lies it is {high(standsIf(shot, character, '+y'))}.
      </span>
      <Button size="small" onClick={() => bench.perform('clean.standUp', { character, up })}>
        Stand it upright
      </Button>
      <Button size="small" type="text" onClick={() => leaveAlone(id, LIES + character)}>
        It lies on purpose
      </Button>
    </p>
  );
}

const axisOf = (up: Upright) => up.replace('+', '').replace('-', '−');
