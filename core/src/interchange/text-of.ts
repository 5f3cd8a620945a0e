/** The text of a file's bytes: UTF-8, UTF-16 with its mark, or else Latin-1 as older programs wrote it. */
export function textOf(bytes: Uint8Array): string {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (a === 0xfe && b === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    // Bytes that are no UTF-8 are letters of the Windows code page, which holds Latin-1's (WHATWG, Encoding Standard).
    return new TextDecoder('windows-1252').decode(bytes);
  }
}
