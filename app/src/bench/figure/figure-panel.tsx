import { BodyFigure } from './body-figure.tsx';
import { BodyParts } from './body-parts.tsx';
import { ChannelList } from './channel-list.tsx';
import { LedNote } from './led-note.tsx';

/** The character drawn from the rig: what is selected, and its channels. */
export function FigurePanel() {
  return (
    <section className="figure-panel" aria-label="Figure">
      <BodyFigure />
      <BodyParts />
      <LedNote />
      <ChannelList />
    </section>
  );
}
