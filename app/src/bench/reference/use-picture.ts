import { useEffect } from 'react';
import { framesPerSecond } from '@kneader/core';
import { useBench } from '../bench-store.ts';
import { momentAt } from './film-time.ts';
import { useReference } from './reference-state.ts';

/** Gives the picture of the film at the play-head, whenever either changes: the latest only, since decoding takes longer than a frame. @param draw the same function at every drawing */
export function usePicture(draw: (picture: CanvasImageSource, width: number, height: number) => void): void {
  useEffect(() => {
    let shown: number | null = null;
    let busy = false;
    let isOver = false;
    const follow = async () => {
      if (busy) return;
      busy = true;
      for (;;) {
        const { footage, reference } = useReference.getState();
        if (isOver || !footage || !reference) break;
        const { frame, session } = useBench.getState();
        const moment = momentAt(reference.place, frame, framesPerSecond(session.shot.rate), footage.duration);
        if (moment === shown) break;
        shown = moment;
        const picture = await footage.pictureAt(moment).catch(() => null);
        if (picture && !isOver) draw(picture, footage.width, footage.height);
      }
      busy = false;
    };
    const begin = () => void follow();
    const again = () => {
      shown = null;
      begin();
    };
    begin();
    const stops = [useBench.subscribe(begin), useReference.subscribe(again)];
    return () => {
      isOver = true;
      stops.forEach((stop) => stop());
    };
  }, [draw]);
}
