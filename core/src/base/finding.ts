/**
 * What Kneader tells a person: a code for programs, a sentence for people, and a place.
 */
import { sentences } from './sentences.ts';

export interface Place {
  readonly node?: string;
  readonly channel?: string;
  readonly key?: number;
  readonly frame?: number;
  /** A file's name. */
  readonly file?: string;
  /** A line of a text file, from 1. */
  readonly line?: number;
  /** A path in a document, `nodes[3].parent`. */
  readonly path?: string;
}

export type FindingCode = keyof typeof sentences;

export interface Finding {
  readonly code: FindingCode;
  readonly sentence: string;
  readonly where: Place;
}

/** Makes a finding from the one table of texts. */
export function finding<Code extends FindingCode>(
  code: Code,
  where: Place,
  ...words: Parameters<(typeof sentences)[Code]>
): Finding {
  // The table's functions take different words; `Parameters` above has checked them.
  const write = sentences[code] as (...words: unknown[]) => string;
  return { code, sentence: write(...words), where };
}

/** Something a user can put right, thrown by readers of files and caught at their border. */
export class InputError extends Error {
  override readonly name = 'InputError';
  readonly finding: Finding;

  constructor(found: Finding) {
    super(found.sentence);
    this.finding = found;
  }
}

/** Throws the `InputError` of a finding. */
export function refuse<Code extends FindingCode>(
  code: Code,
  where: Place,
  ...words: Parameters<(typeof sentences)[Code]>
): never {
  throw new InputError(finding(code, where, ...words));
}
