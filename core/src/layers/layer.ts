/**
 * Layers: what is laid over the base curves without writing into them. A layer maps no value to a value, since a spring depends on all that
 * came before: it makes signals (channels over time) out of the signals below it.
 *
 * Every kind of layer is one file and one line in `kinds.ts`; nothing else asks which kind a layer is.
 */
import type { z } from 'zod';
import type { Finding } from '../base/finding.ts';
import type { FrameRange } from '../base/frame-range.ts';
import type { PieceOfTime, TimePieces } from '../base/time-pieces.ts';
import type { Curve } from '../curve/curve.ts';
import type { Vector } from '../rig/node.ts';
import type { Rig } from '../rig/rig.ts';
import type { Signals } from './signal.ts';

export type NodeCurves = Readonly<Record<string, Curve>>;
/** One entry for each node; undefined where it has no curve. */
export type CurveTable = readonly (NodeCurves | undefined)[];

/** A piece of motion that placements show; it stands once in the shot, however often it is placed. Frames count from its start. */
export interface StoredAction {
  readonly id: string;
  readonly name: string;
  readonly length: number;
  readonly curves: CurveTable;
  /** What stands in it; missing where that is not known. */
  readonly contacts?: readonly ActionContact[] | undefined;
  /** Where it comes from, and how its joints found those of the shot; missing where that is not known. */
  readonly from?: ActionOrigin | undefined;
}

/** A span of an action in which a point of a joint stands, as contacts of a shot say it. */
export interface ActionContact extends FrameRange {
  readonly node: string;
  readonly point: string;
  readonly at: Vector;
}

interface ActionOrigin {
  /** What it is in the pantry, and a digest of what it did when it was placed; null where it is in none. */
  readonly kept: { readonly id: string; readonly print: string } | null;
  readonly mapping: MappingChoice;
}

/** How an action finds its way onto the joints of a shot. */
export interface MappingChoice {
  readonly match: 'names' | 'both' | 'structure';
  /** Onto which character; null where its joints say so. */
  readonly character: string | null;
  /** Whether places go by the size of the figures. */
  readonly heights: boolean;
  /** What places are multiplied by; null where that is found from the figures. */
  readonly times: number | null;
  /** Whether feet that stand on another figure stand here. */
  readonly feet: boolean;
  /** Of what is flipped: whether its way over the ground is, too. */
  readonly path: 'mirrored' | 'kept';
  readonly flipped: boolean;
  /** Its joints and those of the shot, or none, said by hand. */
  readonly pairs: Readonly<Record<string, string | null>>;
}

/** Where a layer counts, frames, both ends included; it comes in over `rampIn` frames from the start, and goes out before the end. */
export interface LayerRange extends FrameRange {
  readonly rampIn: number;
  readonly rampOut: number;
}

export interface Layer {
  readonly id: string;
  /** A kind of `kinds.ts`, or one that this version does not know: such a layer is kept, and does nothing. */
  readonly kind: string;
  readonly name: string;
  /** One of the eight layer colours, 0…7. */
  readonly colour: number;
  /** Ids of the nodes that it changes, in the order in which they were chosen. */
  readonly members: readonly string[];
  /** The members' channels that it changes, by name for all of them or by address for one; null is every one that its kind takes. */
  readonly channels: readonly string[] | null;
  readonly muted: boolean;
  readonly solo: boolean;
  readonly locked: boolean;
  /** 1 is all of it; a single key is a constant. */
  readonly weight: Curve;
  /** Null is everywhere. */
  readonly range: LayerRange | null;
  /** What is keyed on it. */
  readonly curves: CurveTable;
  /** As the kind's schema says. */
  readonly settings: Readonly<Record<string, unknown>>;
}

/** What a layer may ask of the shot that it lies in. */
export interface Context {
  readonly rig: Rig;
  /** The shot's frames. */
  readonly range: FrameRange;
  readonly framesPerSecond: number;
  /** The length of the cycle that the shot is, frames, wherever it ends; null where it is none. */
  readonly period: number | null;
  /** The curves of the base: what is keyed, whatever lies over it. */
  readonly base: CurveTable;
  /** What placements show. */
  readonly actions: readonly StoredAction[];
  /** The layers that count, from bottom to top. */
  readonly layers: readonly Layer[];
}

/** What a channel shall be at a frame, on some level of the stack. */
export interface Want {
  readonly frame: number;
  readonly value: number;
}
/** hidden: it shows nothing of what lies below; beyond: more than half a turn would be needed; blocked: what shows depends on other frames too. */
export type Blocked = 'hidden' | 'beyond' | 'blocked';
export type Wants = ReadonlyMap<number, Want>;
export type Answers = Map<number, Want | Blocked>;

export interface LayerKind<Schema extends z.ZodObject = z.ZodObject> {
  readonly kind: string;
  readonly title: string;
  /** One sentence: what it does. */
  readonly summary: string;
  readonly words: string;
  /** Whether it holds keys, and can be posed on. */
  readonly keyed: boolean;
  /** What it does with what lies below: adds to it, covers it, or makes something else of it. */
  readonly effect: (settings: z.output<Schema>) => LayerEffect;
  /** Whether it is a block that is laid, moved and cut as a whole, by edits of its own, and is not offered among the filters. */
  readonly isBlock?: true;
  readonly settings: Schema;
  /** Settings of a new one, where they differ from what is meant where a file leaves them out. */
  readonly fresh?: Partial<z.output<Schema>>;
  /** Whether it shows other times of what lies below: at part of its strength two at once, so that many of them are not laid over one control. */
  readonly movesTime?: boolean;
  /** The controls that a new one is laid over, where that is more than what is chosen. */
  readonly gather?: (nodes: readonly string[], rig: Rig) => readonly string[];
  /** Whether it runs from value to value, so that an angle that leaps by a whole turn is spun through. */
  readonly spins?: true;
  /** What is worth knowing of what it makes of what lies below. */
  readonly said?: (layer: Layer, below: Signals, context: Context) => readonly Finding[];
  /** What is wrong with settings beyond their schema, or null. */
  readonly problem?: (settings: z.output<Schema>, context: Context) => Finding | null;
  /** The signals above the layer; those that it leaves alone are the same objects. */
  readonly over: (layer: Layer, below: Signals, context: Context) => Signals;
  /** Channel indices of a node that are worked out together. @param held when it is the layer that shall be keyed */
  readonly together?: (layer: Layer, rig: Rig, node: number, held: boolean) => readonly number[];
  /** What must be keyed on the layer so that what is wanted shows right above it; left out, it cannot be posed on. */
  readonly hold?: (layer: Layer, wants: Wants, below: Signals, context: Context) => Answers;
  /** What must lie below so that what is wanted shows right above it; left out, it blocks posing from below. */
  readonly under?: (layer: Layer, wants: Wants, below: Signals, context: Context) => Answers;
  /** Where keys stand that make what it shows of a channel, beside those of its own curves and its weight; left out, a layer that is not keyed makes something of every frame. */
  readonly keyTimes?: (layer: Layer, node: number, name: string, context: Context) => readonly number[];
  /** For a layer that holds drawings: the frame whose drawing shows, and where the next one begins. */
  readonly drawings?: (layer: Layer, context: Context) => Drawings;
  /**
   * How its settings go over to the other side: 'asIs' where they name no side and it works alike on both; else what they are there, null where what it
   * makes has no mirror image.
   */
  readonly flip:
    'asIs' | ((settings: z.output<Schema>, partnerOf: (node: string) => string) => z.output<Schema> | null);
  /** How what it is goes through a change of time, its keys, weight and range aside. */
  readonly time: LayerTime<z.output<Schema>>;
}

export interface Drawings {
  readonly at: (frame: number) => number;
  /** Frames of a range with which a drawing begins, rising. */
  readonly begins: (range: FrameRange) => readonly number[];
}

/**
 * asKeyed: it is no more than its keys, weight and range. through: it carries all pieces of time itself, as a block does. inPiece: what its settings are
 * within one piece of time, null where it cannot be that; `split` says whether it needs a copy for each piece that runs at another pace or another
 * way ('pace'), or for each of all pieces ('every'), or none ('never').
 */
export type LayerTime<Settings> =
  | { readonly is: 'asKeyed' }
  | { readonly is: 'through'; readonly through: (settings: Settings, pieces: TimePieces) => Settings }
  | {
      readonly is: 'inPiece';
      readonly split: 'every' | 'pace' | 'never';
      /** Whether it shows or adds what lies at other times, so that beside a cut it is another than it was. */
      readonly looksAround: boolean;
      readonly inPiece: (settings: Settings, piece: PieceOfTime, over: FrameRange) => Settings | null;
    };

export type LayerEffect = 'adds' | 'covers' | 'changes';

/** Keeps the schema's type; adds nothing. */
export function defineLayer<Schema extends z.ZodObject>(kind: LayerKind<Schema>): LayerKind<Schema> {
  return kind;
}
