import { BorderInnerOutlined } from '../../theme/icons.tsx';
import { Canvas } from '@react-three/fiber';
import { Button, Select } from 'antd';
import { useState, useSyncExternalStore } from 'react';
import { DRAWS_SOLID, HAS_GRAPHICS_CARD } from '../../drawing/graphics-card.ts';
import { frameStage, toggleArcs } from '../bench-actions.ts';
import { FIELD_OF_VIEW, framesPerSecond, variantsOf } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';
import { isMoving, onDragging } from '../gestures/drag.ts';
import { useStrokes } from '../keys/key-map.ts';
import { FlatStage } from './flat-stage.tsx';
import { StageArcs } from './stage-arcs.tsx';
import { FARTHEST, StageCamera } from './stage-camera.tsx';
import type { StageView } from './stage-camera.tsx';
import { StageChosen } from './stage-chosen.tsx';
import { StageFigure } from './stage-figure.tsx';
import type { Shading } from './shading.ts';
import { StageGhost } from './stage-ghost.tsx';
import { StageGhostFrames } from './stage-ghost-frames.tsx';
import { StageRoom } from './stage-room.tsx';
import { SkinNote } from './skin/skin-note.tsx';
import { useSkinShow } from './skin/skins.ts';
import type { SkinShow } from './skin/skins.ts';
import { StageLayerNote } from './stage-layer-note.tsx';
import { StageRelations } from './stage-relations.tsx';
import { HandleTools } from './handle-tools.tsx';
import { StageHandle } from './stage-handle.tsx';
import { StagePointerReader } from './stage-pointer-reader.tsx';
import { toggleReference, useReference } from '../reference/reference-state.ts';
import { RecordOverlay } from '../record/record-overlay.tsx';
import { StageFlight } from './stage-flight.tsx';
import { StageFootage } from './stage-footage.tsx';
import { StageWeight } from './stage-weight.tsx';
import { toggleWalls, useWalls } from './stage-walls.tsx';
import { StageVariants } from './stage-variants.tsx';
import { ViewTools } from './view-tools.tsx';

/** The 3D view, or what stands for it where there is none. */
export const Stage = DRAWS_SOLID ? SolidStage : FlatStage;

const SHOWN_AS: readonly { readonly value: SkinShow; readonly label: string }[] = [
  { value: 'skin', label: 'Skin' },
  { value: 'bones', label: 'Bones' },
  { value: 'solids', label: 'Solids' },
];

/** The figure as it is, the motion before as an outline behind it, and a handle on what is selected. */
function SolidStage() {
  const [view, setView] = useState<StageView>('free');
  const [shading, setShading] = useState<Shading>('lit');
  const [weight, setWeight] = useState(false);
  const [lost, setLost] = useState(false);
  const film = useReference(({ isOpen, reference }) => isOpen || reference?.place.isShown === true);
  const walls = useWalls((state) => state.shown);
  const reached = useBench((state) => state.reached);
  const wanted = useBench((state) => framesPerSecond(state.session.shot.rate) * state.speed);
  const hasCamera = useBench((state) => state.session.shot.nodes.some((node) => node.kind === 'camera'));
  const hasSkins = useBench((state) => (state.session.shot.sources?.length ?? 0) > 0);
  const show = useSkinShow((state) => state.show);
  const arcs = useBench((state) => state.arcs);
  const beside = useBench((state) => state.beside.length > 1 && variantsOf(state.session.shot).length > 1);
  const ghosts = useBench((state) => state.ghosts);
  const allBeads = useBench((state) => state.allBeads);
  const strokeFor = useStrokes();
  const playing = useBench((state) => state.playing);
  const moving = useSyncExternalStore(onDragging, isMoving);
  const comparison = useBench((state) => state.comparison);
  return (
    <section className={`stage${lost ? ' lost' : ''}`} aria-label="Stage">
      <Canvas
        flat
        frameloop="demand"
        // Without a graphics card pictures are drawn by the processor: half as fine while it plays or follows a hand.
        dpr={(playing || moving) && !HAS_GRAPHICS_CARD ? 0.5 : 1}
        gl={{ stencil: true, antialias: HAS_GRAPHICS_CARD }}
        camera={{ fov: FIELD_OF_VIEW, near: 1, far: FARTHEST }}
        onCreated={({ gl }) => {
          gl.domElement.addEventListener('webglcontextlost', () => setLost(true));
          gl.domElement.addEventListener('webglcontextrestored', () => setLost(false));
        }}
      >
        <StageRoom />
        <StageCamera view={view} />
        {beside ? (
          <StageVariants shading={shading} />
        ) : (
          <>
            <StageFootage />
            <StageGhost />
            <StageGhostFrames />
            <StageFigure shading={shading} />
            <StageChosen />
            <StageArcs />
            <StageHandle />
            <StagePointerReader />
            <StageRelations />
            {weight && <StageWeight />}
            <StageFlight />
          </>
        )}
      </Canvas>
      <div className="stage-tools">
        <ViewTools {...{ view, setView, shading, setShading, hasCamera }} />
        {hasSkins && (
          <Select<SkinShow>
            size="small"
            aria-label="Figures as"
            value={show}
            onChange={(next) => useSkinShow.setState({ show: next })}
            options={[...SHOWN_AS]}
            style={{ width: 86 }}
          />
        )}
        <HandleTools />
        <Button
          size="small"
          type={arcs.length > 0 ? 'primary' : 'default'}
          title={`The paths of the selected controls, a tick for each frame; keys on them can be dragged (${strokeFor('arcs')})`}
          onClick={toggleArcs}
        >
          Arcs{arcs.length > 0 ? ` ${arcs.length}` : ''}
        </Button>
        {arcs.length > 0 && (
          <Button
            size="small"
            type={allBeads ? 'primary' : 'default'}
            title="All keys on the paths; off, those around the play-head where there are many"
            aria-pressed={allBeads}
            onClick={() => bench.setAllBeads(!allBeads)}
          >
            All keys
          </Button>
        )}
        <Button
          size="small"
          type={ghosts > 0 ? 'primary' : 'default'}
          title="The figure at the poses before and after"
          onClick={() => bench.setGhosts((ghosts + 1) % 3)}
        >
          Ghosts{ghosts > 0 ? ` ±${ghosts}` : ''}
        </Button>
        <Button
          size="small"
          type={weight ? 'primary' : 'default'}
          title="The centre of mass of each character, its path over the ground, and what carries it"
          aria-pressed={weight}
          onClick={() => setWeight(!weight)}
        >
          Weight
        </Button>
        <Button
          size="small"
          type={film ? 'primary' : 'default'}
          aria-pressed={film}
          title="A film or pictures beside the stage, or behind the figure"
          onClick={toggleReference}
        >
          Film
        </Button>
        <Button
          size="small"
          title={`Frame what is selected, or all that moves (${strokeFor('frameStage')})`}
          onClick={() => frameStage()}
        >
          Frame
        </Button>
        <Button
          size="small"
          type={walls ? 'primary' : 'default'}
          icon={<BorderInnerOutlined />}
          aria-label="Walls"
          aria-pressed={walls}
          title="Walls behind the figure, with the floor’s grid in cm"
          onClick={toggleWalls}
        />
      </div>
      {lost && (
        <p className="stage-lost" role="alert">
          The browser took the stage’s picture away, as it does when memory is short. Your shot is as it was;
          the stage comes back by itself, or when the page is loaded again.
        </p>
      )}
      <SkinNote />
      <StageLayerNote />
      <RecordOverlay />
      {comparison === 'before' && <span className="stage-note">Before</span>}
      {playing && (reached !== null || !HAS_GRAPHICS_CARD) && (
        <span className="stage-coarse soft">
          {!HAS_GRAPHICS_CARD && 'No graphics card: half as fine while it plays'}
          {!HAS_GRAPHICS_CARD && reached !== null && ' · '}
          {reached !== null && `${reached} of ${Math.round(wanted)} pictures a second; time is kept`}
        </span>
      )}
    </section>
  );
}
