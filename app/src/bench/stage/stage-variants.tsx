import { Html } from '@react-three/drei';
import { useMemo } from 'react';
import { variantsOf } from '@kneader/core';
import { useBench, variantShot } from '../bench-store.ts';
import type { BenchState } from '../bench-store.ts';
import { figureSize } from './figure-size.ts';
import { StageFigure } from './stage-figure.tsx';
import type { Shading } from './shading.ts';

/** From one figure to the next, as a part of their height. */
const APART = 0.62;

/** Up to four variants side by side on one play-head, their names under them. */
export function StageVariants({ shading }: { readonly shading: Shading }) {
  const beside = useBench((state) => state.beside);
  const variants = useBench((state) => state.session.shot.variants);
  const shown = useMemo(() => {
    const { shot } = useBench.getState().session;
    const { height, middle, floor } = figureSize(shot);
    const found = variantsOf({ ...shot, ...(variants && { variants }) }).filter(({ id }) =>
      beside.includes(id),
    );
    return found.map(({ id, name }, i) => ({
      id,
      name,
      across: (i - (found.length - 1) / 2) * height * APART,
      under: [middle[0], floor - height * 0.04, middle[2]] as const,
      pick: (state: BenchState) => variantShot(state, id),
    }));
  }, [beside, variants]);
  return shown.map(({ id, name, across, under, pick }) => (
    <group key={id} position={[across, 0, 0]}>
      <StageFigure shading={shading} pick={pick} />
      <Html position={[...under]} center>
        <span className="stage-name">{name}</span>
      </Html>
    </group>
  ));
}
