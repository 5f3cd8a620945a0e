/** Zips as they come from elsewhere: what they say of their members is not believed. */
import { Uint8ArrayReader, ZipReader } from '@zip.js/zip.js/lib/zip-core-native.js';
import type { FileEntry } from '@zip.js/zip.js/lib/zip-core-native.js';
import crc from 'crc-32';
import { Inflate } from 'fflate';

/** A file in a zip. */
export type ZipMember = FileEntry;

/** The files in a zip, in its order; null where it is none. */
export async function zipMembers(bytes: Uint8Array): Promise<ZipMember[] | null> {
  const zip = new ZipReader(new Uint8ArrayReader(bytes), { useWebWorkers: false, checkSignature: true });
  // Nobody writes under these names: whoever takes them minds where they lead.
  const entries = await zip.getEntries({ filenameValidation: 'tolerant' }).catch(() => null);
  return entries && entries.filter((entry): entry is FileEntry => !entry.directory);
}

/** More came out of a zip than there was room for. */
export class TooMuch extends Error {}

/** Bytes that go through the inflater in one piece: what comes out of them is at most a thousand times as much before it is counted. */
const PIECE = 16_384;

/**
 * The bytes of a member. Streams, which the zip package would read it with, take five times as long for small ones.
 * @param zip in which it stands
 * @throws TooMuch where it comes to more than `room`; an Error where its bytes are not those that were packed
 */
export function bytesOfMember(entry: ZipMember, zip: Uint8Array, room: number): Uint8Array {
  const header = new DataView(zip.buffer, zip.byteOffset + entry.offset, 30);
  // APPNOTE.TXT of the zip format, 4.3.7: the lengths of name and extra field stand in the local header once more.
  const begin = entry.offset + 30 + header.getUint16(26, true) + header.getUint16(28, true);
  const packed = zip.subarray(begin, begin + entry.compressedSize);
  if (entry.encrypted || packed.length < entry.compressedSize) throw new Error('cut off, or locked');
  const chunks: Uint8Array[] = [];
  let size = 0;
  const take = (chunk: Uint8Array) => {
    size += chunk.length;
    if (size > room) throw new TooMuch();
    chunks.push(chunk);
  };
  if (entry.compressionMethod === 0) take(packed);
  else {
    const inflater = new Inflate(take);
    for (let from = 0; from < packed.length; from += PIECE)
      inflater.push(packed.subarray(from, from + PIECE), from + PIECE >= packed.length);
  }
  const bytes = new Uint8Array(size);
  let at = 0;
  for (const chunk of chunks) {
    bytes.set(chunk, at);
    at += chunk.length;
  }
  if (crc.buf(bytes) >>> 0 !== entry.signature) throw new Error('another checksum');
  return bytes;
}
