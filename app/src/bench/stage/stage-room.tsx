import { useMemo } from 'react';
import { CanvasTexture, GridHelper, SRGBColorSpace } from 'three';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { useFigureSize } from './use-figure-size.ts';
import { StageWalls, useWalls } from './stage-walls.tsx';

/** Floor, walls behind the figure, and a scale in cm: a tall rule with a mark for each tenth of its height. */
export function StageRoom() {
  const palette = PALETTES[useTheme((state) => state.name)];
  const size = useFigureSize();
  const cell = useMemo(() => 10 ** Math.floor(Math.log10(size.height / 4)), [size]);
  const grid = useMemo(() => new GridHelper(cell * 40, 40, palette.rule, palette.rule), [cell, palette]);
  const walls = useWalls((state) => state.shown);
  const [x, , z] = size.middle;
  return (
    <>
      <color attach="background" args={[palette.wall]} />
      <StageLights height={size.height} />
      <mesh rotation-x={-Math.PI / 2} position={[x, size.floor - size.height * 0.003, z]} renderOrder={-2}>
        <planeGeometry args={[cell * 40, cell * 40]} />
        <meshBasicMaterial color={palette.floor} depthWrite={false} />
      </mesh>
      <primitive
        object={grid}
        position={[Math.round(x / cell) * cell, size.floor, Math.round(z / cell) * cell]}
        renderOrder={-1}
      />
      {walls && <StageWalls middle={size.middle} floor={size.floor} cell={cell} colour={palette.rule} />}
      <Measure
        place={[x - size.height * 0.9, size.floor, z - size.height * 0.3]}
        cell={cell}
        colour={palette.soft}
      />
    </>
  );
}

/** @param height of the figure, cm */
export function StageLights({ height }: { readonly height: number }) {
  return (
    <>
      <hemisphereLight args={['#fff6e6', '#8a7763', 1.5]} />
      <directionalLight position={[height, height * 2, height * 1.6]} intensity={2.1} />
      <directionalLight position={[-height * 1.5, height, -height]} intensity={0.6} />
    </>
  );
}

interface MeasureProps {
  readonly place: readonly [number, number, number];
  readonly cell: number;
  readonly colour: string;
}

/** An upright rule with a mark for each cell and a number for every fifth. */
function Measure({ place, cell, colour }: MeasureProps) {
  const labels = useMemo(
    () =>
      [0, 5, 10, 15, 20].map((cells) => ({ at: cells * cell, texture: numberTexture(cells * cell, colour) })),
    [cell, colour],
  );
  return (
    <group position={[...place]}>
      {Array.from({ length: 21 }, (_, i) => (
        <mesh key={i} position={[0, i * cell, 0]}>
          <boxGeometry args={[i % 5 === 0 ? cell : cell * 0.5, cell * 0.06, cell * 0.06]} />
          <meshBasicMaterial color={colour} />
        </mesh>
      ))}
      {labels.map(({ at, texture }) => (
        <sprite
          key={at}
          position={[-cell * 1.6, at, 0]}
          scale={[cell * 2.4, cell * 1.2, 1]}
          raycast={() => null}
        >
          <spriteMaterial map={texture} transparent depthWrite={false} />
        </sprite>
      ))}
    </group>
  );
}

/** A number as a picture: text in the stage without fonts from outside. */
function numberTexture(value: number, colour: string): CanvasTexture {
  const canvas = document.createElement('canvas');
  canvas.width = 128;
  canvas.height = 64;
  const context = canvas.getContext('2d');
  if (context) {
    context.fillStyle = colour;
    context.font = "44px 'Recursive Variable', sans-serif";
    context.textAlign = 'right';
    context.fillText(`${value}`, 122, 48);
  }
  const texture = new CanvasTexture(canvas);
  texture.colorSpace = SRGBColorSpace;
  return texture;
}
