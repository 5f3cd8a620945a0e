/**
 * Stand a character upright: its file has another axis up than y. The nodes that it hangs on are turned at rest, and their places exchange axes, so that every
 * key stays where and what it is but for its sign; all else hangs on them.
 */
import { z } from 'zod';
import { finding } from '../../base/finding.ts';
import { standsIf, topFinder, topsOf, uprightOf } from '../../bodies/upright.ts';
import { rebuild } from '../../curve/rebuild.ts';
import type { Curve } from '../../curve/curve.ts';
import { splitChannel } from '../../document/shot.ts';
import type { Selection } from '../../document/selection.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';
import { isKeyed } from '../../layers/kinds.ts';
import type { CurveTable } from '../../layers/layer.ts';
import { nodeStoodUp, placesStoodUp, UPRIGHTS } from '../../rig/upright.ts';
import { withStands } from '../contacts/stands.ts';
import { defineEdit, outcome, refused } from '../edit.ts';
import { characterOption, meantCharacter, nameOfCharacter } from '../shared/meant-character.ts';
import { whichCharacter } from '../shared/targets.ts';
import { actionsWith } from '../spaces/node-changes.ts';
import { heldPlaces } from './held-places.ts';

export const standUp = defineEdit({
  id: 'clean.standUp',
  title: 'Stand upright',
  summary: 'Turns a character whose file has another axis up than y, with all that hangs on it.',
  words: 'z up axis orientation lying lie import rotate vertical y-up z-up',
  group: 'clean',
  locks: 'none',
  options: z.object({
    character: characterOption(),
    up: z
      .enum(UPRIGHTS)
      .nullable()
      .default(null)
      .meta({
        title: 'Up is',
        labels: { '+y': 'y', '+z': 'z', '-z': '−z', '+x': 'x', '-x': '−x', '-y': '−y' },
        description: 'The axis that points from its feet to its head now; left out, as its limbs lie.',
      }),
  }),
  run(shot, selection, { character, up: said }) {
    const chosen = meantCharacter(shot, selection, character);
    if (chosen === null) return refused(shot, selection, whichCharacter(shot));
    const name = nameOfCharacter(shot, chosen);
    const up = said ?? uprightOf(shot, chosen);
    if (up === null) return refused(shot, selection, finding('upUnknown', {}, name));
    if (up === '+y') return outcome(shot, shot, selection);
    const tops = topsOf(shot, chosen);
    const isTop = (node: { readonly id: string }) => tops.has(node.id);
    const locked = heldPlaces(shot, isTop);
    if (locked.length > 0) return refused(shot, selection, finding('lockedInTheWay', {}, locked));
    const byWorld = goByWorld(shot, tops);
    if (byWorld.length > 0) return refused(shot, selection, finding('axesInTheWay', {}, name, byWorld));

    const renamed = placesStoodUp(up);
    const touched: ChannelId[] = [];
    const turned = (table: CurveTable): CurveTable => {
      if (!shot.nodes.some((node, row) => isTop(node) && table[row])) return table;
      return shot.nodes.map((node, row) => {
        const own = table[row];
        if (!own || !isTop(node)) return own;
        const entries = Object.entries(own).map(([channel, curve]): [string, Curve] => {
          const next = renamed.get(channel);
          if (!next) return [channel, curve];
          if (next.name !== channel || next.sign < 0) touched.push(`${node.id}.${next.name}`);
          return [next.name, next.sign < 0 ? negated(curve) : curve];
        });
        return Object.fromEntries(entries);
      });
    };
    const idOf = (id: ChannelId): ChannelId => {
      const { node, name: channel } = splitChannel(id);
      const next = tops.has(node) ? renamed.get(channel) : undefined;
      return next ? `${node}.${next.name}` : id;
    };
    const before = tidy(standsIf(shot, chosen, '+y'));
    const after = withStands({
      ...shot,
      nodes: shot.nodes.map((node) => (isTop(node) ? nodeStoodUp(up, node) : node)),
      curves: turned(shot.curves),
      layers: shot.layers.map((layer) => {
        const own = turned(layer.curves);
        return own === layer.curves ? layer : { ...layer, curves: own };
      }),
      ...actionsWith(shot, turned),
    });
    return outcome(shot, after, withIds(selection, idOf), {
      touched: [...new Set(touched)],
      findings: [finding('stoodUp', {}, name, up)],
      measures: [
        { name: 'stands', value: tidy(standsIf(after, chosen, '+y')), unit: '', before },
        { name: 'turned at rest', value: tops.size, unit: tops.size === 1 ? 'node' : 'nodes' },
      ],
    });
  },
});

/** What is selected, by the names that its channels have now. */
const withIds = (selection: Selection, idOf: (id: ChannelId) => ChannelId): Selection => ({
  ...selection,
  channels: selection.channels.map(idOf),
  keys: Object.fromEntries(Object.entries(selection.keys).map(([id, rows]) => [idOf(id), rows])),
});

/** What is level is so to rounding. */
const tidy = (height: number): number => Math.round(height * 1e6) / 1e6;

const negated = (curve: Curve): Curve =>
  rebuild(curve, null, (columns) => {
    for (const name of ['values', 'slopesIn', 'slopesOut'] as const)
      for (let row = 0; row < columns.times.length; row += 1) columns[name][row] = 0 - columns[name][row]!;
  });

/** What goes by axes that do not turn along: relations to the world and to what hangs elsewhere, by their nodes, and filters and blocks over what is turned, by their names. */
function goByWorld({ nodes, relations, layers }: Shot, tops: ReadonlySet<string>): string[] {
  const top = topFinder(nodes);
  const turns = (id: string | null): boolean => id !== null && tops.has(top(id));
  const related = relations.filter(
    ({ node, targets }) => turns(node) && targets.some((target) => !turns(target.node)),
  );
  const laid = layers.filter(
    (layer) => (!isKeyed(layer) || layer.channels !== null) && layer.members.some((id) => tops.has(id)),
  );
  return [...new Set([...related.map(({ node }) => node), ...laid.map(({ name }) => name)])];
}
