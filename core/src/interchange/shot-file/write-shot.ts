/** A shot as the text of a shot file. */
import { shotToJson } from '../../document/parts/shot-json.ts';
import type { Shot } from '../../document/shot.ts';

export function writeShotFile(shot: Shot): string {
  return `${JSON.stringify(shotToJson(shot))}\n`;
}
