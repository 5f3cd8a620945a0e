import { useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useState } from 'react';
import { CanvasTexture, SRGBColorSpace } from 'three';
import { useReference } from '../reference/reference-state.ts';
import { usePicture } from '../reference/use-picture.ts';
import { useFigureSize } from './use-figure-size.ts';

/** Of the figure's height: how high the film stands, and how far behind. */
const [HIGH, BEHIND] = [1.5, 0.9];

/** The film as a plane behind the figure. */
export function StageFootage() {
  const isBehind = useReference(
    ({ reference }) => reference?.place.isShown === true && reference.place.place === 'behind',
  );
  return isBehind ? <FilmPlane /> : null;
}

function FilmPlane() {
  const invalidate = useThree((state) => state.invalidate);
  const { height, middle, floor } = useFigureSize();
  const [shape, setShape] = useState(16 / 9);
  const texture = useMemo(() => {
    const made = new CanvasTexture(document.createElement('canvas'));
    made.colorSpace = SRGBColorSpace;
    return made;
  }, []);
  useEffect(() => () => texture.dispose(), [texture]);
  usePicture(
    useCallback(
      (picture, width, high) => {
        const canvas = texture.image;
        if (canvas.width !== width || canvas.height !== high) {
          canvas.width = width;
          canvas.height = high;
          texture.dispose();
          setShape(width / high);
        }
        canvas.getContext('2d')?.drawImage(picture, 0, 0, width, high);
        texture.needsUpdate = true;
        invalidate();
      },
      [texture, invalidate],
    ),
  );
  const tall = height * HIGH;
  return (
    <mesh position={[middle[0], floor + tall / 2, middle[2] - height * BEHIND]} raycast={() => null}>
      <planeGeometry args={[tall * shape, tall]} />
      <meshBasicMaterial map={texture} toneMapped={false} />
    </mesh>
  );
}
