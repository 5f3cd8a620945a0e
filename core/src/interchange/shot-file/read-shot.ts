/**
 * A shot from the JSON of a shot file: parsed with Zod, then checked for what a schema cannot say (names that
 * point nowhere, circles, curves whose columns do not fit).
 */
import { refuse } from '../../base/finding.ts';
import { problemOf } from '../../document/describe-problem.ts';
import { migrated } from '../../document/versions/migrate.ts';
import { EVERY_PART, SHOT_VERSION, shotSchema } from '../../document/parts/parts.ts';
import type { ShotJson } from '../../document/parts/parts.ts';
import { rigOf } from '../../document/shot.ts';
import type { Shot } from '../../document/shot.ts';
import { readJson } from '../read-json.ts';

const KNOWN = new Set(Object.keys(shotSchema.shape));

export function readShotFile(text: string): Shot {
  return shotFromJson(readJson(text));
}

/** The shot of a parsed document; throws an `InputError` that names the place. */
export function shotFromJson(document: unknown): Shot {
  const head = document as { format?: unknown; version?: unknown } | null;
  if (typeof head !== 'object' || head === null || head.format !== 'kneader-shot')
    return refuse('notAShotFile', {});
  if (typeof head.version === 'number' && head.version > SHOT_VERSION) {
    return refuse('newerVersion', { path: 'version' }, head.version, SHOT_VERSION);
  }
  const isOlder = Number.isInteger(head.version) && (head.version as number) >= 1;
  const parsed = shotSchema.safeParse(isOlder ? migrated({ ...head, version: SHOT_VERSION }) : head);
  if (!parsed.success) {
    const { path, words } = problemOf(parsed.error);
    return refuse('badDocument', { path }, path || 'the top', words);
  }
  return build(parsed.data as unknown as ShotJson);
}

function build(json: ShotJson): Shot {
  const { nodes } = json as Pick<Shot, 'nodes'>;
  const rows = new Map(nodes.map(({ id }, row) => [id, row]));
  const around = { nodes, indexOf: (id: string) => rows.get(id) ?? -1 };
  const wrong = (path: string, problem: string): never => refuse('badDocument', { path }, path, problem);
  const given = EVERY_PART.filter(([name]) => json[name] !== undefined);
  for (const [name, part] of given) part.check?.(json[name], around, wrong);
  const held = given.map(([name, part]) => [name, part.read(json[name], around)] as const);
  const extras = Object.entries(json).filter(([field]) => !KNOWN.has(field));
  const shot = { ...Object.fromEntries(held), extras: Object.fromEntries(extras) } as unknown as Shot;
  // Compiling finds circles.
  rigOf(shot);
  return shot;
}
