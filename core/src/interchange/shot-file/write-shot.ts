/** A shot as the text of a shot file. */
import { shotToJson } from '../../shot/document/shot-json.ts';
import type { Shot } from '../../shot/shot.ts';

export function writeShotFile(shot: Shot): string {
  return `${JSON.stringify(shotToJson(shot))}\n`;
}
