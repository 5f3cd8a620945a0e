/** Any file that can be opened, by its ending. */
import { finding, refuse } from '../base/finding.ts';
import type { Finding } from '../base/finding.ts';
import { uprightOf } from '../bodies/upright.ts';
import type { Shot } from '../document/shot.ts';
import { heldTwice } from '../rig/relations/held-twice.ts';
import { formatOf } from './formats.ts';
import { opened } from './opened.ts';
import type { ReadResult } from './bvh/read-bvh.ts';
import type { GltfOptions } from './gltf/read-gltf.ts';

/** Larger files are refused. */
export const MOST_MEGABYTES = 200;

/** Reads a file to a shot; rejects with an `InputError` that says what is wrong and where. */
export async function readFile(
  name: string,
  bytes: Uint8Array,
  options: GltfOptions = {},
): Promise<ReadResult> {
  const format = formatOf(name);
  if (format === null) return refuse('fileUnknownKind', { file: name }, name);
  if (bytes.byteLength === 0) return refuse('fileEmpty', { file: name });
  const megabytes = Math.round(bytes.byteLength / 1e6);
  if (megabytes > MOST_MEGABYTES) return refuse('fileTooLarge', { file: name }, megabytes, MOST_MEGABYTES);
  const title = name.slice(0, -format.ending.length).slice(0, 200) || 'Untitled';
  const { shot, findings, ...more } = await format.read(bytes, title, { ...options, file: name });
  const whole = opened(shot);
  return { ...more, shot: whole, findings: [...findings, ...heldTwiceFinding(whole), ...otherAxesUp(whole)] };
}

/** Characters that lie by their file's axes. */
const otherAxesUp = (shot: Shot): Finding[] =>
  shot.characters.flatMap(({ id, name }) => {
    const up = uprightOf(shot, id);
    return up === null || up === '+y' ? [] : [finding('anotherAxisUp', {}, name, up)];
  });

/** No edit makes such relations; a file may hold them. */
function heldTwiceFinding({ nodes, relations }: Shot): Finding[] {
  const parents = new Map(nodes.map(({ id, parent }) => [id, parent]));
  const twice = heldTwice(relations, (node) => parents.get(node) ?? null);
  return twice.length === 0 ? [] : [finding('heldTwice', { node: twice[0]! }, twice)];
}
