/** A shot as the JSON of a shot file. */
import { EVERY_PART, SHOT_VERSION } from './parts.ts';
import type { ShotJson } from './parts.ts';
import { rigOf } from '../shot.ts';
import type { Shot } from '../shot.ts';

/** The document of a shot; fields that a file brought and Kneader does not know are in it again. */
export function shotToJson(shot: Shot): ShotJson {
  const around = rigOf(shot);
  const written = EVERY_PART.filter(([name]) => shot[name] !== undefined).map(
    ([name, part]) => [name, part.write(shot[name], around)] as const,
  );
  return {
    ...shot.extras,
    format: 'kneader-shot',
    version: SHOT_VERSION,
    ...Object.fromEntries(written),
  } as ShotJson;
}
