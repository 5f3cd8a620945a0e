import { Canvas, useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef } from 'react';
import { Color, PerspectiveCamera } from 'three';
import { FIELD_OF_VIEW } from '@kneader/core';
import type { Alignment, Shot } from '@kneader/core';
import { useBench } from '../../bench-store.ts';
import { blinkedAt } from '../../film/blinked-at.ts';
import { ComparedFigures } from '../compared/compare-stage.tsx';
import { figureSize } from '../figure-size.ts';
import { ownHead, PlayHeadContext } from '../play-head.ts';
import { FARTHEST, lastEye, ShotCamera } from '../stage-camera.tsx';
import { StageFigure } from '../stage-figure.tsx';
import { StageLights, StageRoom } from '../stage-room.tsx';

export type Ground = 'room' | 'plain' | 'none';

interface FilmedScene {
  readonly shot: Shot;
  /** What is compared with it. */
  readonly beside: { readonly shot: Shot; readonly alignment: Alignment; readonly size: number } | null;
  /** Through the shot's camera; else as the stage was looked at last. */
  readonly isCamera: boolean;
  readonly width: number;
  readonly height: number;
  readonly ground: Ground;
}

/** Draws a frame and gives the picture: it stands until the next one. */
export type DrawFrame = (frame: number) => HTMLCanvasElement;

interface FilmStageProps extends FilmedScene {
  readonly onReady: (draw: DrawFrame) => void;
}

/** A stage out of sight, of the film's size, that draws when it is told to. */
export function FilmStage(props: FilmStageProps) {
  const { width, height } = props;
  return (
    <div className="film-stage" style={{ width, height }} aria-hidden>
      <Canvas
        flat
        frameloop="never"
        dpr={1}
        gl={{ stencil: true, antialias: true, alpha: true, preserveDrawingBuffer: true }}
        camera={{ fov: FIELD_OF_VIEW, near: 1, far: FARTHEST }}
      >
        <FilmedPicture {...props} />
      </Canvas>
    </div>
  );
}

function FilmedPicture({ shot, beside, isCamera, width, height, ground, onReady }: FilmStageProps) {
  const gl = useThree((state) => state.gl);
  const camera = useThree((state) => state.camera);
  const scene = useThree((state) => state.scene);
  const advance = useThree((state) => state.advance);
  const size = useThree((state) => state.size);
  const head = useMemo(() => ownHead(shot.range.start), [shot]);
  const pick = useCallback(() => shot, [shot]);
  const figure = useMemo(() => figureSize(useBench.getState().session.shot), []);
  // Told once: whoever is told draws another film otherwise.
  const told = useRef(onReady);
  const isLaidOut = size.width === width && size.height === height;
  useEffect(() => {
    if (isCamera || !(camera instanceof PerspectiveCamera)) return;
    const eye = lastEye();
    if (!eye) return;
    camera.position.copy(eye.camera.position);
    camera.quaternion.copy(eye.camera.quaternion);
    if (eye.camera instanceof PerspectiveCamera) {
      camera.fov = eye.camera.fov;
      camera.near = eye.camera.near;
      camera.far = eye.camera.far;
    }
    camera.updateProjectionMatrix();
  }, [camera, isCamera]);
  useEffect(() => {
    if (ground === 'room') return;
    scene.background = ground === 'plain' ? new Color('#ffffff') : null;
    gl.setClearColor(0xffffff, ground === 'plain' ? 1 : 0);
  }, [scene, gl, ground]);
  useEffect(() => {
    if (!isLaidOut) return;
    // What comes by itself, a skin, a texture, has come when the next two tasks are over.
    const timer = window.setTimeout(() => {
      told.current((frame) => {
        head.set(frame);
        advance(performance.now(), true);
        return gl.domElement;
      });
    }, SETTLED_MS);
    return () => window.clearTimeout(timer);
  }, [isLaidOut, head, gl, advance]);
  return (
    <PlayHeadContext value={head}>
      {ground === 'room' ? <StageRoom /> : <StageLights height={figure.height} />}
      {isCamera && <ShotCamera pick={pick} />}
      {beside ? (
        <ComparedFigures
          a={shot}
          b={beside.shot}
          alignment={beside.alignment}
          size={beside.size}
          shading="lit"
          blinkedAt={() => blinkedAt(shot, head.read().frame)}
        />
      ) : (
        <StageFigure shading="lit" pick={pick} isStill />
      )}
    </PlayHeadContext>
  );
}

const SETTLED_MS = 300;
