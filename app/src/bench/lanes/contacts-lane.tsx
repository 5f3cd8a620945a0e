import { DeleteOutlined, ScissorOutlined } from '../../theme/icons.tsx';
import { useDeferredValue, useMemo, useRef, useState } from 'react';
import { contactsOf, measureContacts } from '@kneader/core';
import type { Contact, Shot } from '@kneader/core';
import { PALETTES } from '../../theme/palette.ts';
import { useTheme } from '../../theme/theme-provider.tsx';
import { bench, shownShot, useBench } from '../bench-store.ts';
import { beginDrag, isDragging } from '../gestures/drag.ts';
import { useSize } from '../use-size.ts';
import { Lane } from './lane.tsx';
import { frameToX, xToFrame } from './time-axis.ts';

/** Pixels for each point, and within which an edge is hit. */
const ROW = 26;
const REACH = 6;
/** mm from which a slide is worth a colour of its own. */
const SLIDES = 5;

/** The points that stand, each with its spans. */
function rowsOf(shot: Shot): { readonly key: string; readonly node: string; readonly spans: Contact[] }[] {
  const rows = new Map<string, Contact[]>();
  for (const contact of contactsOf(shot)) {
    const key = `${contact.node} ${contact.point}`;
    rows.set(key, [...(rows.get(key) ?? []), contact]);
  }
  return [...rows]
    .map(([key, spans]) => ({ key, node: spans[0]!.node, spans }))
    .sort((a, b) => a.key.localeCompare(b.key));
}

/** Where points of bodies stand, as spans with their slide: an edge is dragged, a span is cut at the play-head or taken away. */
export function ContactsLane() {
  const shot = useBench(shownShot);
  const [chosen, setChosen] = useState<string | null>(null);
  const rows = useMemo(() => rowsOf(shot), [shot]);
  const settled = useDeferredValue(shot);
  const slides = useMemo(
    () =>
      new Map(
        measureContacts(settled, contactsOf(settled)).map((one) => [one.contact.id, one.greatest * 10]),
      ),
    [settled],
  );
  if (rows.length === 0) return null;
  return (
    <Lane
      id="contacts"
      name="Contacts"
      height={Math.max(44, ROW * rows.length + 6)}
      aside={<ContactTools chosen={contactsOf(shot).find(({ id }) => id === chosen) ?? null} />}
      track={rows.map(({ key, node, spans }) => (
        <ContactTrack
          key={key}
          node={node}
          spans={spans}
          slides={slides}
          chosen={chosen}
          onChoose={setChosen}
        />
      ))}
    />
  );
}

/** What can be done with the chosen span. */
function ContactTools({ chosen }: { readonly chosen: Contact | null }) {
  const frame = useBench((state) => Math.round(state.frame));
  if (!chosen) return null;
  const cuts = frame > chosen.start && frame <= chosen.end;
  return (
    <>
      <button
        type="button"
        className="icon"
        aria-label="Cut the contact at the play-head"
        title="Cut the contact at the play-head"
        disabled={!cuts}
        onClick={() => bench.perform('contacts.set', { contact: chosen.id, split: frame })}
      >
        <ScissorOutlined />
      </button>
      <button
        type="button"
        className="icon"
        aria-label="Remove the contact"
        title="Remove the contact"
        onClick={() => bench.perform('contacts.remove', { contacts: [chosen.id] })}
      >
        <DeleteOutlined />
      </button>
    </>
  );
}

interface TrackProps {
  readonly node: string;
  readonly spans: readonly Contact[];
  /** mm, by the contact. */
  readonly slides: ReadonlyMap<string, number>;
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
}

interface Edge {
  readonly contact: Contact;
  readonly edge: 'start' | 'end';
}

function ContactTrack({ node, spans, slides, chosen, onChoose }: TrackProps) {
  const holder = useRef<HTMLDivElement>(null);
  const { width } = useSize(holder);
  const from = useBench((state) => state.from);
  const to = useBench((state) => state.to);
  const side = useBench((state) => state.session.shot.nodes.find(({ id }) => id === node)?.side ?? 'centre');
  const palette = PALETTES[useTheme((state) => state.name)];
  const axis = { from, to, width: Math.max(width, 1) };
  const ends = ({ start, end }: Contact) => ({ start: frameToX(axis, start), end: frameToX(axis, end + 1) });
  const near = (x: number): Edge | null => {
    for (const contact of spans)
      for (const edge of ['end', 'start'] as const)
        if (Math.abs(ends(contact)[edge] - x) < REACH) return { contact, edge };
    return null;
  };
  const place = (event: React.PointerEvent<HTMLDivElement>) =>
    event.clientX - event.currentTarget.getBoundingClientRect().left;
  const colour = palette[side];
  return (
    <div
      ref={holder}
      className="space-track"
      style={{ height: ROW }}
      onPointerDown={(event) => {
        const x = place(event);
        const on = spans.find((one) => x >= ends(one).start && x <= ends(one).end);
        const held = near(x);
        onChoose(held?.contact.id ?? on?.id ?? null);
        if (!held) return;
        const { contact, edge } = held;
        const left = event.clientX - x;
        event.currentTarget.setPointerCapture(event.pointerId);
        beginDrag(event, {
          start: () => bench.beginGesture('contacts.set'),
          move: (at) => {
            const frame = Math.round(xToFrame(axis, at.x - left)) - (edge === 'end' ? 1 : 0);
            bench.updateGesture({
              contact: contact.id,
              [edge]: edge === 'start' ? Math.min(frame, contact.end) : Math.max(frame, contact.start),
            });
          },
          end: () => bench.commitGesture(`Contact of ${node}`),
          cancel: bench.cancelGesture,
        });
      }}
      onPointerMove={(event) => {
        if (!isDragging()) event.currentTarget.style.cursor = near(place(event)) ? 'ew-resize' : '';
      }}
    >
      {spans.map((contact) => {
        const { start, end } = ends(contact);
        const slide = slides.get(contact.id) ?? 0;
        const words = `${node} ${contact.point} stands from ${contact.start} to ${contact.end}, slides ${slide.toFixed(1)} mm`;
        return (
          <button
            key={contact.id}
            type="button"
            className="contact-span"
            aria-label={words}
            aria-pressed={contact.id === chosen}
            title={words}
            style={{
              left: start,
              width: Math.max(end - start - 1, 2),
              background: `color-mix(in srgb, ${colour} ${contact.id === chosen ? 55 : 28}%, transparent)`,
              borderColor: contact.byHand || contact.block !== undefined ? colour : 'transparent',
              borderStyle: contact.block === undefined ? 'solid' : 'dashed',
            }}
            onKeyDown={(event) => {
              if (event.key === 'Delete') bench.perform('contacts.remove', { contacts: [contact.id] });
              if (event.key === 'Delete') event.stopPropagation();
            }}
            onClick={() => onChoose(contact.id)}
          >
            {end - start > 44 && (
              <>
                {contact.node} {contact.point}{' '}
                <span style={slide >= SLIDES ? { color: palette.warning, fontWeight: 600 } : undefined}>
                  {slide.toFixed(slide < 10 ? 1 : 0)} mm
                </span>
              </>
            )}
          </button>
        );
      })}
    </div>
  );
}
