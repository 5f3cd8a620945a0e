import { Segmented } from 'antd';
import { useEffect, useState } from 'react';
import { useBench } from '../bench-store.ts';
import { BodyFigure } from './body-figure.tsx';
import { BodyParts } from './body-parts.tsx';
import { ChannelList } from './channel-list.tsx';
import { LedNote } from './led-note.tsx';

/** The character drawn from the rig, one of several at a time: what is selected, and its channels. */
export function FigurePanel() {
  const characters = useBench((state) => state.session.shot.characters);
  const selected = useBench((state) => state.session.selection.nodes);
  const [shown, setShown] = useState<string | null>(null);
  // What is selected elsewhere is shown here, whichever tab was looked at meanwhile.
  useEffect(() => {
    const { nodes } = useBench.getState().session.shot;
    const owner = nodes.find(({ id }) => id === selected[0])?.character ?? null;
    if (owner !== null) setShown(owner);
  }, [selected]);
  const several = characters.length > 1;
  const figure = several ? (characters.find(({ id }) => id === shown) ?? characters[0]!).id : null;
  return (
    <section className="figure-panel" aria-label="Figure">
      {several && (
        <Segmented
          size="small"
          block
          aria-label="Figures"
          value={figure!}
          options={characters.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={setShown}
        />
      )}
      <BodyFigure figure={figure} />
      <BodyParts />
      <LedNote />
      <ChannelList />
    </section>
  );
}
