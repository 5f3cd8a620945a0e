import type { Node } from '@kneader/core';
import { bench, useBench } from '../bench-store.ts';

const PARTS: readonly {
  readonly label: string;
  readonly short: string;
  readonly has: (node: Node) => boolean;
}[] = [
  { label: 'Head', short: 'Head', has: (node) => node.part === 'head' },
  { label: 'Torso', short: 'Torso', has: (node) => node.part === 'torso' || node.part === 'root' },
  {
    label: 'Left arm',
    short: 'L arm',
    has: (node) => (node.part === 'arm' || node.part === 'hand') && node.side === 'left',
  },
  {
    label: 'Right arm',
    short: 'R arm',
    has: (node) => (node.part === 'arm' || node.part === 'hand') && node.side === 'right',
  },
  { label: 'Left leg', short: 'L leg', has: (node) => node.part === 'leg' && node.side === 'left' },
  { label: 'Right leg', short: 'R leg', has: (node) => node.part === 'leg' && node.side === 'right' },
  { label: 'Hanging parts', short: 'Extra', has: (node) => node.part === 'extra' },
  { label: 'Props', short: 'Props', has: (node) => node.part === 'prop' && node.kind !== 'camera' },
  // A camera is looked through: what is done to all that moves is not meant for it.
  { label: 'Everything', short: 'All', has: (node) => node.kind !== 'camera' },
  { label: 'Cameras', short: 'Camera', has: (node) => node.kind === 'camera' },
];

/** A chip for each body part that the shot has; with Shift added to what is selected. */
export function BodyParts() {
  const nodes = useBench((state) => state.session.shot.nodes);
  const selected = useBench((state) => state.session.selection.nodes);
  const characters = useBench((state) => state.session.shot.characters);
  const chosen = new Set(selected);
  // Where there are several, one for each of them.
  const figures = characters.length < 2 ? [] : characters;
  const parts = [
    ...figures.map(({ id, name }) => ({
      label: `All of ${name}`,
      short: name,
      has: (node: Node) => node.character === id,
    })),
    ...PARTS,
  ];
  return (
    <div className="chip-group" role="group" aria-label="Body parts">
      {parts.map(({ label, short, has }) => {
        const members = nodes.filter((node) => node.channels.length > 0 && has(node)).map((node) => node.id);
        if (members.length === 0) return null;
        const all = members.every((id) => chosen.has(id));
        return (
          <button
            key={label}
            type="button"
            className={`chip${all ? ' on' : ''}`}
            aria-label={label}
            aria-pressed={all}
            title={label}
            onClick={(event) => bench.selectNodes(members, event.shiftKey)}
          >
            {short}
          </button>
        );
      })}
    </div>
  );
}
