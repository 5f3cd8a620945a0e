/** Nodes and channels that come and go with relations: whatever names them goes along. */
import type { CurveTable, Layer } from '../../layers/layer.ts';
import type { Node } from '../../rig/node.ts';
import { splitChannel } from '../../document/shot.ts';
import type { ChannelId, Shot } from '../../document/shot.ts';

/** `base`, `base2`, `base3` …: the first name that the node has no channel of. */
export function freshChannel({ channels }: Node, base: string): string {
  for (let i = 1; ; i += 1) {
    const name = i === 1 ? base : `${base}${i}`;
    if (!channels.includes(name)) return name;
  }
}

export const withChannels = (shot: Shot, node: string, names: readonly string[]): Shot =>
  names.length === 0
    ? shot
    : {
        ...shot,
        nodes: shot.nodes.map((one) =>
          one.id === node ? { ...one, channels: [...one.channels, ...names] } : one,
        ),
      };

/** The shot without channels, and without what is keyed on them on any layer. */
export function withoutChannels(shot: Shot, addresses: readonly ChannelId[]): Shot {
  if (addresses.length === 0) return shot;
  const gone = new Set(addresses);
  const names = new Map<string, Set<string>>();
  for (const id of addresses) {
    const { node, name } = splitChannel(id);
    names.set(node, (names.get(node) ?? new Set()).add(name));
  }
  const without = (table: CurveTable): CurveTable =>
    table.map((entries, row) => {
      const own = names.get(shot.nodes[row]?.id ?? '');
      return own && entries
        ? Object.fromEntries(Object.entries(entries).filter(([name]) => !own.has(name)))
        : entries;
    });
  return {
    ...shot,
    nodes: shot.nodes.map((node) => {
      const own = names.get(node.id);
      return own ? { ...node, channels: node.channels.filter((name) => !own.has(name)) } : node;
    }),
    curves: without(shot.curves),
    layers: shot.layers.map((layer) => ({ ...layer, curves: without(layer.curves) })),
    ...actionsWith(shot, without),
    locked: shot.locked.filter((id) => !gone.has(id)),
  };
}

/** The shot's actions with other tables, where it has any. */
export const actionsWith = (
  { actions }: Shot,
  change: (table: CurveTable) => CurveTable,
): Pick<Shot, 'actions'> =>
  actions ? { actions: actions.map((action) => ({ ...action, curves: change(action.curves) })) } : {};

/** The shot with nodes more, after those that there are. */
export const withNodes = (shot: Shot, nodes: readonly Node[]): Shot => ({
  ...shot,
  nodes: [...shot.nodes, ...nodes],
});

/** The shot without nodes; nothing hangs on them any more. */
export function withoutNodes(shot: Shot, ids: readonly string[]): Shot {
  const gone = new Set(ids);
  const rows = shot.nodes.map((_, row) => row).filter((row) => !gone.has(shot.nodes[row]!.id));
  const kept = (table: CurveTable): CurveTable => rows.map((row) => table[row]);
  return {
    ...shot,
    nodes: rows
      .map((row) => shot.nodes[row]!)
      .map((node) => (node.pair && gone.has(node.pair) ? { ...node, pair: null } : node)),
    curves: kept(shot.curves),
    ...actionsWith(shot, kept),
    layers: shot.layers.map((layer): Layer => ({
      ...layer,
      members: layer.members.filter((id) => !gone.has(id)),
      curves: kept(layer.curves),
    })),
    locked: shot.locked.filter((id) => !gone.has(splitChannel(id).node)),
  };
}
