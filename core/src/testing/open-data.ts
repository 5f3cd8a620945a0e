/** Open files that tests read: Debian's package `assimp-testmodels`. */
import { readFileSync } from 'node:fs';

const FOLDER = '/usr/share/assimp/models';

/** A file of the package; says what to install where it is missing. */
export function openData(path: string): Uint8Array {
  try {
    return new Uint8Array(readFileSync(`${FOLDER}/${path}`));
  } catch (error) {
    throw new Error(`${FOLDER}/${path} is missing: install Debian's package assimp-testmodels`, {
      cause: error,
    });
  }
}
