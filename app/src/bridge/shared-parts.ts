/**
 * Sending shots between the page and its worker without sending what the other side has.
 *
 * Curves and rigs are immutable, so each is sent once, under a number, and named by its number from then on. Both sides
 * keep the same table; the page owns even numbers, the worker odd ones. Nothing is transferred: the document keeps its buffers.
 */
import { byteLength } from '@kneader/core';
import type { Curve, Shot } from '@kneader/core';

/** A part that is sent once: a curve, the nodes or the chains of a rig. */
type Part = Curve | Shot['nodes'] | Shot['chains'];

interface Reference {
  readonly part: number;
}
type PackedTable = readonly (Readonly<Record<string, Reference>> | undefined)[];

/** A shot with numbers in place of its curves and its rig, and the parts that are new to the other side. */
export interface PackedShot {
  readonly plain: Omit<Shot, 'curves' | 'passes' | 'nodes' | 'chains'>;
  readonly nodes: Reference;
  readonly chains: Reference;
  readonly curves: PackedTable;
  readonly passes: readonly {
    readonly plain: object;
    readonly weight: Reference;
    readonly curves: PackedTable;
  }[];
  readonly fresh: readonly (readonly [number, Part])[];
}

export class SharedParts {
  private readonly numbers = new WeakMap<object, number>();
  private readonly parts = new Map<number, Part>();
  private next: number;

  constructor(side: 'page' | 'worker') {
    this.next = side === 'page' ? 2 : 1;
  }

  pack(shot: Shot): PackedShot {
    const fresh: [number, Part][] = [];
    const refer = (part: Part): Reference => {
      let number = this.numbers.get(part);
      if (number === undefined) {
        number = this.next;
        this.next += 2;
        this.learn(number, part);
        fresh.push([number, part]);
      }
      return { part: number };
    };
    const table = (curves: Shot['curves']): PackedTable =>
      // Holes in the table stay holes.
      Array.from(
        curves,
        (entries) =>
          entries && Object.fromEntries(Object.entries(entries).map(([name, curve]) => [name, refer(curve)])),
      );
    const { curves, passes, nodes, chains, ...plain } = shot;
    return {
      plain,
      nodes: refer(nodes),
      chains: refer(chains),
      curves: table(curves),
      passes: passes.map(({ weight, curves: own, ...rest }) => ({
        plain: rest,
        weight: refer(weight),
        curves: table(own),
      })),
      fresh,
    };
  }

  unpack(packed: PackedShot): Shot {
    for (const [number, part] of packed.fresh) this.learn(number, part);
    const find = <T extends Part>({ part }: Reference): T => {
      const found = this.parts.get(part);
      if (!found) throw new Error(`The page and its worker disagree about part ${part}`);
      return found as T;
    };
    const table = (curves: PackedTable): Shot['curves'] =>
      curves.map(
        (entries) =>
          entries &&
          Object.fromEntries(
            Object.entries(entries).map(([name, reference]) => [name, find<Curve>(reference)]),
          ),
      );
    return {
      ...packed.plain,
      nodes: find(packed.nodes),
      chains: find(packed.chains),
      curves: table(packed.curves),
      passes: packed.passes.map(({ plain, weight, curves }) => ({
        ...plain,
        weight: find<Curve>(weight),
        curves: table(curves),
      })) as unknown as Shot['passes'],
    };
  }

  /** Bytes of the curves that the table holds; when they are too many both sides start again. */
  bytes = 0;

  private learn(number: number, part: Part): void {
    this.numbers.set(part, number);
    this.parts.set(number, part);
    if ('times' in part) this.bytes += byteLength(part);
  }
}
