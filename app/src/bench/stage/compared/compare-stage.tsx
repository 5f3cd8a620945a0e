import { Canvas } from '@react-three/fiber';
import { Segmented } from 'antd';
import { useCallback, useContext, useMemo, useRef, useState } from 'react';
import type { Group } from 'three';
import { besideFrame, FIELD_OF_VIEW } from '@kneader/core';
import type { Alignment, Shot } from '@kneader/core';
import { HAS_GRAPHICS_CARD } from '../../../drawing/graphics-card.ts';
import { PALETTES } from '../../../theme/palette.ts';
import { useTheme } from '../../../theme/theme-provider.tsx';
import { useBench } from '../../bench-store.ts';
import { useCompare } from '../../compare/compare-store.ts';
import { WipeHandle } from '../../compare/wipe-handle.tsx';
import { besideHead, PlayHeadContext } from '../play-head.ts';
import type { Shading } from '../shading.ts';
import { FARTHEST, StageCamera } from '../stage-camera.tsx';
import type { StageView } from '../stage-camera.tsx';
import { useShape } from '../skin/use-shape.ts';
import { StageFigure } from '../stage-figure.tsx';
import { StageOutline } from '../stage-outline.tsx';
import { StageRoom } from '../stage-room.tsx';
import { ViewTools } from '../view-tools.tsx';
import { TwoPictures } from './two-pictures.tsx';

/** Of the figure's height. */
const OUTLINE = 0.006;

interface CompareStageProps {
  readonly a: Shot;
  readonly b: Shot;
  readonly alignment: Alignment;
  /** How many times as large the second is shown. */
  readonly size: number;
  /** What they are called. */
  readonly names: readonly [string, string];
}

/** Two shots on one play-head. */
export function CompareStage({ a, b, alignment, size, names }: CompareStageProps) {
  const shown = [
    names[0],
    Math.abs(size - 1) < 0.005 ? names[1] : `${names[1]} × ${Number(size.toPrecision(3))}`,
  ];
  const [view, setView] = useState<StageView>('free');
  const [shading, setShading] = useState<Shading>('lit');
  const playing = useBench((state) => state.playing);
  // The camera is the first one's, as the play-head is.
  const pick = useCallback(() => a, [a]);
  const hasCamera = a.nodes.some((node) => node.kind === 'camera');
  const look = useCompare((state) => state.look);
  const isFree = useCompare((state) => state.isFree);
  const blinked = useCompare((state) => state.blinked);
  return (
    <section className={`stage compare-stage look-${look}`} aria-label="Stage">
      <Canvas
        flat
        frameloop="demand"
        dpr={playing && !HAS_GRAPHICS_CARD ? 0.5 : 1}
        gl={{ stencil: true, antialias: HAS_GRAPHICS_CARD }}
        camera={{ fov: FIELD_OF_VIEW, near: 1, far: FARTHEST }}
      >
        <StageRoom />
        <StageCamera view={view} pick={pick} />
        <ComparedFigures {...{ a, b, alignment, size, shading }} />
      </Canvas>
      {look === 'wipe' && <WipeHandle />}
      {look === 'blink' ? (
        <span className="compare-name is-first">{shown[blinked === 'a' ? 0 : 1]}</span>
      ) : (
        <>
          <span className="compare-name is-first">{shown[0]}</span>
          <span className={`compare-name is-second${look === 'over' ? ' is-tinted' : ''}`}>{shown[1]}</span>
        </>
      )}
      <div className="stage-tools">
        <ViewTools {...{ view, setView, shading, setShading, hasCamera }} />
        {look === 'beside' && view === 'free' && (
          <Segmented
            size="small"
            aria-label="Views"
            value={isFree}
            onChange={(next) => useCompare.setState({ isFree: next })}
            options={[
              { value: false, label: 'Together', title: 'Both are turned as one' },
              { value: true, label: 'Each', title: 'Each half is turned by itself' },
            ]}
          />
        )}
      </div>
    </section>
  );
}

interface SecondOutlineProps {
  readonly pick: () => Shot;
  readonly colour: string;
  readonly thickness: number;
}

/** The second laid over the first as a line around it. */
function SecondOutline(props: SecondOutlineProps) {
  return <StageOutline shape={useShape(props.pick, 2)} order={5} {...props} />;
}

interface ComparedFiguresProps {
  readonly a: Shot;
  readonly b: Shot;
  readonly alignment: Alignment;
  /** How many times as large the second is shown. */
  readonly size: number;
  readonly shading: Shading;
  /** Of a film, see `two-pictures.tsx`. */
  readonly blinkedAt?: () => 'a' | 'b';
}

/** The figures of two shots, the second in the time that lies beside; drawn as `useCompare` says. */
export function ComparedFigures({ a, b, alignment, size, shading, blinkedAt }: ComparedFiguresProps) {
  const [first, second] = [useRef<Group>(null), useRef<Group>(null)];
  const theme = useTheme((state) => state.name);
  const own = useContext(PlayHeadContext);
  const isOver = useCompare((state) => state.look === 'over');
  const pickA = useCallback(() => a, [a]);
  const pickB = useCallback(() => b, [b]);
  const { start, end } = b.range;
  const head = useMemo(
    () => besideHead(own, (frame) => Math.min(Math.max(besideFrame(alignment, frame), start), end)),
    [own, alignment, start, end],
  );
  return (
    <>
      <group ref={first}>
        <StageFigure shading={shading} pick={pickA} />
      </group>
      <group ref={second} scale={size}>
        <PlayHeadContext value={head}>
          {isOver ? (
            <SecondOutline pick={pickB} colour={PALETTES[theme].left} thickness={OUTLINE / size} />
          ) : (
            <StageFigure shading={shading} pick={pickB} isStill />
          )}
        </PlayHeadContext>
      </group>
      <TwoPictures a={first} b={second} {...(blinkedAt && { blinkedAt })} />
    </>
  );
}
