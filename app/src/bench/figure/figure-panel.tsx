import { Segmented } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { FacePicture } from '../../drawing/face-picture.tsx';
import { useBench } from '../bench-store.ts';
import { BodyFigure } from './body-figure.tsx';
import { BodyParts } from './body-parts.tsx';
import { ChannelList } from './channel-list.tsx';
import { restOf } from './figure-spots.ts';
import { LedNote } from './led-note.tsx';
import { SelectionSets } from './selection-sets.tsx';

/** The character drawn from the rig, one of several at a time: what is selected, and its channels. */
export function FigurePanel() {
  const characters = useBench((state) => state.session.shot.characters);
  const nodes = useBench((state) => state.session.shot.nodes);
  const selected = useBench((state) => state.session.selection.nodes);
  const [shown, setShown] = useState<string | null>(null);
  // What is selected elsewhere is shown here, whichever tab was looked at meanwhile.
  useEffect(() => {
    const owner =
      useBench.getState().session.shot.nodes.find(({ id }) => id === selected[0])?.character ?? null;
    if (owner !== null) setShown(owner);
  }, [selected]);
  const several = characters.length > 1;
  const faces = useMemo(() => {
    // Nobody looks at anything.
    const { pose } = restOf({ nodes, relations: [] }, null);
    return { nodes, poses: [], rest: Float32Array.from(pose.matrices) };
  }, [nodes]);
  const figure = several ? (characters.find(({ id }) => id === shown) ?? characters[0]!).id : null;
  return (
    <section className="figure-panel" aria-label="Figure" data-home tabIndex={-1}>
      {several && (
        <Segmented
          size="small"
          block
          aria-label="Figures"
          value={figure!}
          options={characters.map(({ id, name }) => ({
            value: id,
            label: (
              <span className="figure-tab">
                <FacePicture film={faces} character={id} label="" size={24} />
                {name}
              </span>
            ),
          }))}
          onChange={setShown}
        />
      )}
      <BodyFigure figure={figure} />
      <div className="chips">
        <BodyParts />
        <SelectionSets />
      </div>
      <LedNote />
      <ChannelList />
    </section>
  );
}
