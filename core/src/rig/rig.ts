/**
 * The nodes of a shot compiled once to flat arrays, in an order in which all that a node needs comes before it.
 *
 * Layout: node i of `nodes` keeps its index everywhere. Channel c of the shot has one index; the nine
 * transform slots of node i (tx ty tz rx ry rz sx sy sz) are at slots[9i…9i+8], −1 where it lacks them.
 */
import { refuse } from '../base/finding.ts';
import { multiply, rotate } from '../math/quaternion.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { channelKind, restValue, TRANSFORM } from './node.ts';
import { restsOf } from './place-node.ts';
import type { ChannelKind, Node } from './node.ts';
import { relationKindOf } from './relations/kinds.ts';
import { CHOICE, choicesOf } from './choices.ts';
import { compileReach, reach } from './relations/reach.ts';
import type { CompiledChain } from './relations/reach.ts';
import { readsOf, writesOf } from './relations/reads-and-writes.ts';
import type { CompiledRelation, Relation } from './relations/relation.ts';

export interface Channel {
  /** `node.name`. */
  readonly id: string;
  readonly node: number;
  readonly name: string;
  readonly kind: ChannelKind;
  readonly rest: number;
}

export interface Rig {
  readonly nodes: readonly Node[];
  readonly channels: readonly Channel[];
  readonly parents: Int32Array;
  /** Node indices; what a node needs comes first. */
  readonly order: Int32Array;
  readonly slots: Int32Array;
  /** What the channels of the nodes are added to, as `place-node.ts` says. */
  readonly rests: Float64Array;
  /** First channel of each node; channels of node i are firstChannel[i] … firstChannel[i + 1] − 1. */
  readonly firstChannel: Int32Array;
  /** As the shot has them. */
  readonly shotRelations: readonly Relation[];
  /** Limbs that reach, in the order of the shot's relations. */
  readonly chains: readonly CompiledChain[];
  /** The limb that is solved once a node, its root, is placed. */
  readonly chainAt: readonly (CompiledChain | undefined)[];
  /** The other relations by the row of what they place; none is undefined. */
  readonly relations: readonly (readonly CompiledRelation[] | undefined)[];
  /** Whether some relation asks for poses at other times. */
  readonly looksElsewhere: boolean;
  /** World rest orientation and position of each node, without IK. */
  readonly restTurns: readonly Quaternion[];
  readonly restPlaces: readonly Triple[];
  /** Of each channel, whether it chooses: `choices.ts`. */
  readonly choices: Uint8Array;
  readonly indexOf: (node: string) => number;
  readonly channelIndex: (id: string) => number;
}

const compiled = new WeakMap<readonly Node[], WeakMap<readonly Relation[], Rig>>();

/** The compiled rig, kept by the identity of `nodes` and `relations`. Refuses a circle, naming its nodes. */
export function compileRig(nodes: readonly Node[], relations: readonly Relation[]): Rig {
  let ofNodes = compiled.get(nodes);
  if (!ofNodes) compiled.set(nodes, (ofNodes = new WeakMap()));
  let rig = ofNodes.get(relations);
  // A shot and the one after an edit of its relations are asked in turns.
  if (!rig) ofNodes.set(relations, (rig = compile(nodes, relations)));
  return rig;
}

function compile(nodes: readonly Node[], relations: readonly Relation[]): Rig {
  const indices = new Map(nodes.map((node, i) => [node.id, i]));
  const indexOf = (id: string) => indices.get(id) ?? -1;
  const parents = Int32Array.from(nodes, (node) => (node.parent === null ? -1 : indexOf(node.parent)));
  const channels: Channel[] = [];
  const firstChannel = new Int32Array(nodes.length + 1);
  const slots = new Int32Array(nodes.length * 9).fill(-1);
  nodes.forEach((node, i) => {
    firstChannel[i] = channels.length;
    for (const name of node.channels) {
      const slot = TRANSFORM.indexOf(name);
      if (slot >= 0) slots[i * 9 + slot] = channels.length;
      channels.push({
        id: `${node.id}.${name}`,
        node: i,
        name,
        kind: channelKind(name),
        rest: restValue(name),
      });
    }
  });
  firstChannel[nodes.length] = channels.length;
  const channelIndices = new Map(channels.map((channel, c) => [channel.id, c]));
  const parentOf = (id: string) => nodes[indexOf(id)]?.parent ?? null;
  const order = dependencyOrder(nodes, parents, relations, indexOf, parentOf);
  const restTurns: Quaternion[] = [];
  const restPlaces: Triple[] = [];
  for (const i of order) {
    const { translation, rotation } = nodes[i]!.rest;
    const parent = parents[i]!;
    if (parent < 0) {
      restTurns[i] = [...rotation];
      restPlaces[i] = [...translation];
      continue;
    }
    restTurns[i] = multiply(restTurns[parent]!, rotation);
    const [x, y, z] = rotate(restTurns[parent]!, ...translation);
    const at = restPlaces[parent]!;
    restPlaces[i] = [at[0] + x, at[1] + y, at[2] + z];
  }
  const channelIndex = (id: string) => channelIndices.get(id) ?? -1;
  const around = {
    indexOf,
    nodeOf: (id: string) => nodes[indexOf(id)],
    channelIndex,
    turns: restTurns,
    places: restPlaces,
  };
  const chains = relations
    .filter((relation) => relation.kind === reach.kind)
    .map((relation) => compileReach(relation, around));
  const chainAt: (CompiledChain | undefined)[] = nodes.map(() => undefined);
  for (const chain of chains) chainAt[chain.root] = chain;
  const choices = choicesOf(nodes, relations);
  return {
    nodes,
    channels,
    parents,
    order,
    slots,
    rests: restsOf(nodes),
    firstChannel,
    restTurns,
    restPlaces,
    choices: Uint8Array.from(channels, ({ id }) => choices.get(id) ?? CHOICE.never),
    indexOf,
    channelIndex,
    shotRelations: relations,
    chains,
    chainAt,
    ...compileRelations(relations, nodes.length, indexOf, channelIndex),
  };
}

function compileRelations(
  relations: readonly Relation[],
  count: number,
  indexOf: (id: string) => number,
  channelIndex: (id: string) => number,
): Pick<Rig, 'relations' | 'looksElsewhere'> {
  const byNode: CompiledRelation[][] = [];
  let looksElsewhere = false;
  for (const relation of relations) {
    const kind = relationKindOf(relation);
    if (!kind || !(kind.seat || kind.hold)) continue;
    const parsed = kind.settings.safeParse(relation.settings);
    const node = indexOf(relation.node);
    if (!parsed.success || node < 0) continue;
    looksElsewhere ||= kind.looksElsewhere ?? false;
    const channel = (id: string | null) => (id === null ? -1 : channelIndex(id));
    const made: CompiledRelation = {
      relation,
      kind,
      node,
      targets: relation.targets.map((target) => (target.node === null ? -1 : indexOf(target.node))),
      offsets: relation.targets.map(({ offset: { matrix, turn } }) => ({
        matrix: Float64Array.from(matrix),
        turn: Float64Array.from(turn),
      })),
      shares: relation.targets.map(({ share }) => channel(share)),
      weight: channel(relation.weight),
      switch: channel(relation.switch),
      settings: parsed.data,
    };
    byNode[node] = [...(byNode[node] ?? []), made];
  }
  return {
    relations: byNode.length > 0 ? Array.from({ length: count }, (_, i) => byNode[i]) : [],
    looksElsewhere,
  };
}

/** Parents before children, and whatever a relation goes by before what it places (Kahn 1962). */
function dependencyOrder(
  nodes: readonly Node[],
  parents: Int32Array,
  relations: readonly Relation[],
  indexOf: (id: string) => number,
  parentOf: (id: string) => string | null,
): Int32Array {
  const needs: number[][] = nodes.map((_, i) => (parents[i]! >= 0 ? [parents[i]!] : []));
  for (const relation of relations) {
    const [first] = writesOf(relation, parentOf);
    const row = first === undefined ? -1 : indexOf(first);
    if (row < 0) continue;
    for (const id of readsOf(relation)) if (indexOf(id) >= 0) needs[row]!.push(indexOf(id));
  }
  const order: number[] = [];
  const state = new Uint8Array(nodes.length);
  /** From a node down to what it waits for: its own stack, since chains may be longer than the machine's. */
  const path: number[] = [];
  const next = new Int32Array(nodes.length);
  for (let first = 0; first < nodes.length; first += 1) {
    if (state[first] === 0) path.push(first);
    while (path.length > 0) {
      const i = path[path.length - 1]!;
      state[i] = 1;
      const need = needs[i]![next[i]!];
      next[i]! += 1;
      if (need === undefined) {
        path.pop();
        state[i] = 2;
        order.push(i);
      } else if (state[need] === 1) refuseCircle(nodes, path.slice(path.indexOf(need)));
      else if (state[need] === 0) path.push(need);
    }
  }
  return Int32Array.from(order);
}

function refuseCircle(nodes: readonly Node[], rows: readonly number[]): never {
  const names = rows.map((row) => nodes[row]!.id);
  const told = names.length > 6 ? [...names.slice(0, 5), '…'] : names;
  return refuse('circle', { node: names[0]!, path: 'nodes' }, told.join(' → '));
}
