/** The files of a character as they came: one `.glb`, or a `.gltf` and what was beside it. */
export interface SourceFile {
  /** As the first names it; of the first its own. */
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** Under their digest (`Source.id`). */
export type SourceFiles = ReadonlyMap<string, readonly SourceFile[]>;

export const NO_FILES: SourceFiles = new Map();

/** SHA-256 in hexadecimal digits: over lengths and bytes of all, and the names under which the first asks for the others. */
export async function digestOf(files: readonly SourceFile[]): Promise<string> {
  const head = new TextEncoder().encode(
    JSON.stringify(files.map(({ name, bytes }, i) => [i === 0 ? '' : name, bytes.byteLength])),
  );
  const whole = new Uint8Array(files.reduce((sum, { bytes }) => sum + bytes.byteLength, head.byteLength));
  whole.set(head);
  let at = head.byteLength;
  for (const { bytes } of files) {
    whole.set(bytes, at);
    at += bytes.byteLength;
  }
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', whole));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}
