/** The files that characters of a shot came in: what of the shot is what of the file. Their bytes lie beside the shot, by their digest. */
/** Morph targets of one node of a file. */
export interface SourceMorphs {
  /** Index of the node. */
  readonly node: number;
  /** For each target the address of the channel that weighs it. */
  readonly channels: readonly string[];
}

export interface Source {
  /** SHA-256 of its files, in hexadecimal digits (`interchange/source/source-files.ts`). */
  readonly id: string;
  /** Of its first file, with its ending. */
  readonly name: string;
  /** Of all its files together. */
  readonly bytes: number;
  /** Whom it shows. */
  readonly character: string;
  /** For each node of the file the one of the shot; null, or of a name that is not there any more, where there is none. */
  readonly nodes: readonly (string | null)[];
  readonly morphs: readonly SourceMorphs[];
  /** Which animation the shot came from and goes back to; null where the file has none. */
  readonly animation: { readonly index: number; readonly name: string } | null;
}

const kept = new WeakMap<readonly Source[], ReadonlySet<string>>();

/** The channels that weigh morph targets; the same set when asked again. */
export function morphChannels(shot: { readonly sources?: readonly Source[] }): ReadonlySet<string> {
  const sources = sourcesOf(shot);
  let found = kept.get(sources);
  if (!found) {
    found = new Set(sources.flatMap(({ morphs }) => morphs.flatMap(({ channels }) => channels)));
    kept.set(sources, found);
  }
  return found;
}

const NONE: readonly Source[] = [];

export const sourcesOf = (shot: { readonly sources?: readonly Source[] }): readonly Source[] =>
  shot.sources ?? NONE;
