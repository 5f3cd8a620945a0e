/**
 * The nodes of a shot compiled once to flat arrays, in an order in which all that a node needs comes before it.
 *
 * Layout: node i of `nodes` keeps its index everywhere. Channel c of the shot has one index; the nine
 * transform slots of node i (tx ty tz rx ry rz sx sy sz) are at slots[9i…9i+8], −1 where it lacks them.
 */
import { refuse } from '../base/finding.ts';
import { conjugate, multiply, rotate } from '../math/quaternion.ts';
import type { Quaternion, Triple } from '../math/euler.ts';
import { channelKind, restValue } from './node.ts';
import type { ChannelKind, Node } from './node.ts';

/** A limb of two bones driven by a target. All names are node ids. */
export interface Chain {
  readonly id: string;
  readonly root: string;
  readonly middle: string;
  readonly end: string;
  readonly target: string;
  readonly pole: string;
  /** The channel that blends from FK (0) to IK (1), `hand_goal_l.ik`. */
  readonly blend: string;
  /** A joint past the end that keeps to a node of its own, as toes keep to the ground. */
  readonly tip: { readonly joint: string; readonly follows: string } | null;
}

export interface Channel {
  /** `node.name`. */
  readonly id: string;
  readonly node: number;
  readonly name: string;
  readonly kind: ChannelKind;
  readonly rest: number;
}

/** A chain with its nodes' indices and what its rest pose says. */
export interface CompiledChain {
  readonly root: number;
  readonly middle: number;
  readonly end: number;
  readonly target: number;
  readonly pole: number;
  readonly blend: number;
  readonly tip: { readonly joint: number; readonly follows: number; readonly turn: Quaternion } | null;
  /** Joints between root and middle, and between middle and end, parents first: twist joints. */
  readonly upper: readonly number[];
  readonly lower: readonly number[];
  /** Bone directions and hinge in the two joints' own axes. */
  readonly boneRoot: Triple;
  readonly boneMiddle: Triple;
  readonly hingeRoot: Triple;
  readonly hingeMiddle: Triple;
  /** From the target's orientation to the end's, at rest. */
  readonly endTurn: Quaternion;
}

export interface Rig {
  readonly nodes: readonly Node[];
  readonly channels: readonly Channel[];
  readonly parents: Int32Array;
  /** Node indices; what a node needs comes first. */
  readonly order: Int32Array;
  readonly slots: Int32Array;
  /** First channel of each node; channels of node i are firstChannel[i] … firstChannel[i + 1] − 1. */
  readonly firstChannel: Int32Array;
  readonly chains: readonly CompiledChain[];
  /** World rest orientation and position of each node, without IK. */
  readonly restTurns: readonly Quaternion[];
  readonly restPlaces: readonly Triple[];
  indexOf(node: string): number;
  channelIndex(id: string): number;
}

const SLOT_NAMES = ['tx', 'ty', 'tz', 'rx', 'ry', 'rz', 'sx', 'sy', 'sz'];
const compiled = new WeakMap<readonly Node[], { chains: readonly Chain[]; rig: Rig }>();

/** The compiled rig, kept by the identity of `nodes` and `chains`. Refuses a cycle, naming its nodes. */
export function compileRig(nodes: readonly Node[], chains: readonly Chain[]): Rig {
  const known = compiled.get(nodes);
  if (known && known.chains === chains) return known.rig;
  const rig = compile(nodes, chains);
  compiled.set(nodes, { chains, rig });
  return rig;
}

function compile(nodes: readonly Node[], chains: readonly Chain[]): Rig {
  const indices = new Map(nodes.map((node, i) => [node.id, i]));
  const indexOf = (id: string) => indices.get(id) ?? -1;
  const parents = Int32Array.from(nodes, (node) => (node.parent === null ? -1 : indexOf(node.parent)));
  const channels: Channel[] = [];
  const firstChannel = new Int32Array(nodes.length + 1);
  const slots = new Int32Array(nodes.length * 9).fill(-1);
  nodes.forEach((node, i) => {
    firstChannel[i] = channels.length;
    for (const name of node.channels) {
      const slot = SLOT_NAMES.indexOf(name);
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
  const order = dependencyOrder(nodes, parents, chains, indexOf);
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
  return {
    nodes,
    channels,
    parents,
    order,
    slots,
    firstChannel,
    restTurns,
    restPlaces,
    indexOf,
    channelIndex,
    chains: chains.map((chain) => compileChain(chain, parents, indexOf, channelIndex, restTurns, restPlaces)),
  };
}

/** Parents before children, targets and poles before the limbs that they drive (Kahn 1962). */
function dependencyOrder(
  nodes: readonly Node[],
  parents: Int32Array,
  chains: readonly Chain[],
  indexOf: (id: string) => number,
): Int32Array {
  const needs: number[][] = nodes.map((_, i) => (parents[i]! >= 0 ? [parents[i]!] : []));
  for (const chain of chains) {
    needs[indexOf(chain.root)]!.push(indexOf(chain.target), indexOf(chain.pole));
    if (chain.tip) needs[indexOf(chain.root)]!.push(indexOf(chain.tip.follows));
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
  return refuse(
    'badDocument',
    { node: names[0]!, path: 'nodes' },
    'nodes',
    `${told.join(' → ')} depend on each other in a circle`,
  );
}

function compileChain(
  chain: Chain,
  parents: Int32Array,
  indexOf: (id: string) => number,
  channelIndex: (id: string) => number,
  turns: readonly Quaternion[],
  places: readonly Triple[],
): CompiledChain {
  const [root, middle, end, target, pole] = [
    chain.root,
    chain.middle,
    chain.end,
    chain.target,
    chain.pole,
  ].map(indexOf) as [number, number, number, number, number];
  const reach = unit(minus(places[end]!, places[root]!));
  const toPole = minus(places[pole]!, places[root]!);
  const dot = toPole[0] * reach[0] + toPole[1] * reach[1] + toPole[2] * reach[2];
  const aside = unit(minus(toPole, [reach[0] * dot, reach[1] * dot, reach[2] * dot]));
  const hinge: Triple = [
    reach[1] * aside[2] - reach[2] * aside[1],
    reach[2] * aside[0] - reach[0] * aside[2],
    reach[0] * aside[1] - reach[1] * aside[0],
  ];
  const inAxes = (node: number, v: Triple) => rotate(conjugate(turns[node]!), ...v);
  const tip = chain.tip;
  const joint = tip ? indexOf(tip.joint) : -1;
  const follows = tip ? indexOf(tip.follows) : -1;
  return {
    root,
    middle,
    end,
    target,
    pole,
    blend: channelIndex(chain.blend),
    upper: between(parents, root, middle),
    lower: between(parents, middle, end),
    tip: tip ? { joint, follows, turn: multiply(conjugate(turns[follows]!), turns[joint]!) } : null,
    boneRoot: inAxes(root, unit(minus(places[middle]!, places[root]!))),
    boneMiddle: inAxes(middle, unit(minus(places[end]!, places[middle]!))),
    hingeRoot: inAxes(root, hinge),
    hingeMiddle: inAxes(middle, hinge),
    endTurn: multiply(conjugate(turns[target]!), turns[end]!),
  };
}

/** The nodes strictly between one above and one below, parents first; none where it does not stand above. */
function between(parents: Int32Array, above: number, below: number): number[] {
  const found: number[] = [];
  for (let i = parents[below]!; i !== above; i = parents[i]!) {
    if (i < 0) return [];
    found.unshift(i);
  }
  return found;
}

const minus = (a: ArrayLike<number>, b: ArrayLike<number>): Triple => [
  a[0]! - b[0]!,
  a[1]! - b[1]!,
  a[2]! - b[2]!,
];

function unit(v: Triple): Triple {
  const length = Math.hypot(...v) || 1;
  return [v[0] / length, v[1] / length, v[2] / length];
}
