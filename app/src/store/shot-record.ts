/**
 * What is stored of a shot: an index entry that the cards are drawn from, and the session itself. Structured clones keep
 * typed arrays, and parts that steps of the history share are stored once. Both are checked with Zod when they are read.
 */
import { z } from 'zod';
import { checkedSession } from '@kneader/core';
import type { Session } from '@kneader/core';
import { filmSchema } from '../worker/film.ts';

/** 1: the session whole; 2: in parts. */
export const RECORD_VERSION = 2;

export const headSchema = z.object({
  id: z.string().min(1),
  name: z.string(),
  savedAt: z.number(),
  frames: z.number(),
  fps: z.number(),
  nodes: z.number(),
  channels: z.number(),
  keys: z.number(),
  tags: z.array(z.string()).default([]),
  /** Digests of the files that its characters came in. */
  sources: z.array(z.string()).default([]),
  /** The actions that are placed in it; heads of the version before do not know. */
  placed: z.array(z.object({ stored: z.string(), id: z.string(), print: z.string() })).optional(),
});
export type ShotHead = z.infer<typeof headSchema>;
/** As the version before kept it. */
export const entrySchema = headSchema.extend({ film: filmSchema });

/** How the bench looked: not part of the shot, and not part of its history. */
export const viewSchema = z.object({
  frame: z.number(),
  /** The frames that the lanes show. */
  from: z.number(),
  to: z.number(),
});
export type BenchView = z.infer<typeof viewSchema>;

const recordSchema = z.object({
  version: z.literal([1, RECORD_VERSION]),
  id: z.string(),
  session: z.unknown(),
  view: viewSchema.nullable(),
  /** The number of the last act of the journal that it holds. */
  acts: z.number().int().min(0).default(0),
});

export interface ShotRecord {
  readonly version: typeof RECORD_VERSION;
  readonly id: string;
  readonly session: Session;
  readonly view: BenchView | null;
  readonly acts: number;
}

/** Steps of the history that are stored; the rest is for as long as the tab is open. */
export const STORED_STEPS = 40;

/** What is stored of a session: its newest steps, and those that undo has left behind while they are as near. */
export function recordOf(id: string, session: Session, view: BenchView | null, acts = 0): ShotRecord {
  const first = Math.max(0, Math.min(session.at, session.steps.length - STORED_STEPS));
  const kept = { ...session, steps: session.steps.slice(first), at: session.at - first };
  return { version: RECORD_VERSION, id, session: kept, view, acts };
}

/** The record of whatever the browser has stored; throws an `InputError` with a sentence. */
export function readRecord(stored: unknown): ShotRecord {
  const record = recordSchema.parse(stored);
  return { ...record, version: RECORD_VERSION, session: checkedSession(record.session) };
}
