/**
 * Relations: what places a node by others, beside its parent. They are data on the shot, worked out whenever it is looked at; nothing is
 * written into the keys.
 *
 * A node is carried by its parent: its own channels are said in the parent's axes. A relation changes what carries it (the *seat*), and the
 * channels lie on top as ever, so that whatever is keyed stays keyed, and a placement in the world can always be turned back into channels:
 * `local = seat⁻¹ · world`. Two kinds do more: a reach turns the joints of a limb, and *steady* holds what it places.
 *
 * Every kind is one file and one line in `kinds.ts`; nothing else asks which kind a relation is.
 */
import type { z } from 'zod';
import type { FrameRange } from '../../base/frame-range.ts';
import type { TimePieces } from '../../base/time-pieces.ts';
import type { Node } from '../node.ts';
import type { Placed } from '../place-node.ts';

/** What carries a node: an affine frame in the world, and its orientation without scale. */
export interface Seat {
  /** 16 numbers, column-major. */
  readonly matrix: Float64Array;
  /** 4 numbers. */
  readonly turn: Float64Array;
}

/** What of a compiled rig relations ask. */
export interface RigRows {
  readonly nodes: readonly Node[];
  /** Nine channel indices for each node: tx ty tz rx ry rz sx sy sz; −1 where it lacks them. */
  readonly slots: Int32Array;
  /** What the channels of the nodes are added to, as `place-node.ts` says. */
  readonly rests: Float64Array;
  readonly indexOf: (node: string) => number;
  readonly channelIndex: (id: string) => number;
}

/** What a relation goes by. */
export interface RelationTarget {
  /** Null is the world. */
  readonly node: string | null;
  /**
   * From the target's axes to what the node is carried by, as it was when the relation was made: a column-major matrix of 16 numbers, and
   * the orientation in it.
   */
  readonly offset: Offset;
  /** A channel's address: how much it counts beside the other targets; null counts 1. */
  readonly share: string | null;
}

export interface Offset {
  readonly matrix: readonly number[];
  readonly turn: readonly [number, number, number, number];
}

export interface Relation {
  readonly id: string;
  /** A kind of `kinds.ts`, or one that this version does not know: such a relation is kept, and does nothing. */
  readonly kind: string;
  /** What it places; of a reach the end of the limb. */
  readonly node: string;
  readonly targets: readonly RelationTarget[];
  /** A channel's address: how much of it holds, 0…1; null is all of it. */
  readonly weight: string | null;
  /** The address of a stepped channel that says which one of the targets holds, by its place in the list; null lets shares decide. */
  readonly switch: string | null;
  /** As the kind's schema says. */
  readonly settings: Readonly<Record<string, unknown>>;
}

/** A relation with its nodes and channels as indices. */
export interface CompiledRelation<Settings = unknown> {
  readonly relation: Relation;
  readonly kind: RelationKind;
  readonly node: number;
  /** −1 is the world. */
  readonly targets: readonly number[];
  /** Of the targets. */
  readonly offsets: readonly Seat[];
  /** −1 counts 1. */
  readonly shares: readonly number[];
  /** −1 is all of it. */
  readonly weight: number;
  readonly switch: number;
  readonly settings: Settings;
}

/** The pose at other times, for those that need it. */
export interface OtherTimes {
  /** The frame that is being worked out. */
  readonly frame: number;
  readonly at: (frame: number) => WorldPose;
  /** The pose at a frame as it would be if nothing were held standing. */
  readonly free: (frame: number) => WorldPose;
  /** The frame whose drawing shows of a node, or of what hangs on it, as the layers over it say; the frame itself where none holds drawings. */
  readonly drawn: (node: string, frame: number) => number;
}

/** The world transforms of all nodes, by row. */
export interface WorldPose extends Placed {
  /** What carries the nodes that have relations, by row; all others are carried by their parents. */
  readonly seats: (Seat | undefined)[];
  /** The channels that it was worked out from, where it is kept. */
  readonly values?: ArrayLike<number>;
}

/** A node that is being placed. */
interface Placing<Settings = unknown> {
  readonly rig: RigRows;
  readonly values: ArrayLike<number>;
  /** What comes before it in the rig's order is placed. */
  readonly pose: WorldPose;
  readonly compiled: CompiledRelation<Settings>;
  /** 0…1 */
  readonly weight: number;
  readonly times: OtherTimes | null;
}

export interface RelationKind<Schema extends z.ZodObject = z.ZodObject> {
  readonly kind: string;
  readonly title: string;
  /** One sentence: what it does. */
  readonly summary: string;
  readonly words: string;
  readonly settings: Schema;
  /** Of what a node is it takes hold: two relations that hold the same of one node are refused. */
  readonly holds: (settings: z.output<Schema>) => readonly Held[];
  /** Whether a target may be switched to and fro. */
  readonly switches?: boolean;
  /** Nodes beside its targets that must be placed first. */
  readonly reads?: (settings: z.output<Schema>) => readonly string[];
  /** Nodes that it places beside its own; in the order of a limb. */
  readonly writes?: (relation: Relation, parentOf: (node: string) => string | null) => readonly string[];
  /** It is made by an edit of its own, and is not offered where others are added. */
  readonly ownEdit?: true;
  /** The frame that its targets must give so that a node that is carried by `seat` stays where it is; left out, the seat itself; null where no frame says it. */
  readonly standsOn?: ((seat: Seat, rest: Rest) => Seat) | null;
  /** Settings with which the node stays turned as it is, where no frame can say it. @param place of the node, in the world */
  readonly keptSettings?: (
    settings: z.output<Schema>,
    seat: Seat,
    rest: Rest,
    target: Seat,
    place: ArrayLike<number>,
  ) => Partial<z.output<Schema>>;
  /** Changes what carries the node. */
  readonly seat?: (seat: Seat, placing: Placing<z.output<Schema>>) => void;
  /** Changes where the node lies, once it is placed. */
  readonly hold?: (placing: Placing<z.output<Schema>>) => void;
  /** Whether its weight is never more than on or off. */
  readonly switchedOnly?: boolean;
  /** Whether it asks for poses at other times. */
  readonly looksElsewhere?: boolean;
  /** Frames of a range at which it may let what it places jump, by itself. @param drawings with which drawings of what it places begin, as layers say */
  readonly jumps?: (
    settings: z.output<Schema>,
    range: FrameRange,
    drawings: (range: FrameRange) => readonly number[],
  ) => readonly number[];
  /**
   * How settings that hold frames go through a change of time: 'none' holds no frames; else what they are then, null where they cannot be that.
   */
  readonly time: 'none' | ((settings: z.output<Schema>, pieces: TimePieces) => z.output<Schema> | null);
}

type Held = 'place' | 'turn';
type Rest = Node['rest'];

/** Keeps the schema's type; adds nothing. */
export function defineRelation<Schema extends z.ZodObject>(kind: RelationKind<Schema>): RelationKind<Schema> {
  return kind;
}

export const NO_OFFSET: Offset = {
  matrix: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1],
  turn: [0, 0, 0, 1],
};
