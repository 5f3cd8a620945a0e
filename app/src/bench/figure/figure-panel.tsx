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
  const owner = useBench(({ session: { shot, selection } }) => {
    const [first] = selection.nodes;
    return shot.nodes.find(({ id }) => id === first)?.character ?? null;
  });
  const [shown, setShown] = useState<string | null>(null);
  // What is selected elsewhere is shown here.
  useEffect(() => {
    if (owner !== null) setShown(owner);
  }, [owner]);
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
