import { App } from 'antd';
import { useState } from 'react';
import type { ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { FORMATS, formatOf } from '@kneader/core';
import type { AnimationInFile, Finding } from '@kneader/core';
import { bridge } from '../bridge/bridge.ts';
import { useKeepActions } from '../store/action-queries.ts';
import { useAddShot } from '../store/shot-queries.ts';
import { storageProblem } from '../store/storage.ts';
import type { Reading } from '../worker/worker.ts';
import type { GivenFile } from './dropped-files.ts';
import { TakeAnimations } from './take-animations.tsx';
import type { Taken } from './take-animations.tsx';

export const READABLE = FORMATS.map(({ ending }) => ending);
/** What lies beside a `.gltf`. */
export const BESIDE = ['.bin', '.png', '.jpg', '.jpeg', '.ktx2', '.webp'];

/** What the bench says itself, with what can be done about it. */
const ASKED_ON_BENCH: ReadonlySet<string> = new Set(['anotherAxisUp']);

const isGltf = ({ path }: GivenFile) => formatOf(path)?.ending === '.gltf';
const folderOf = (path: string) => path.slice(0, path.lastIndexOf('/') + 1);
const bytesOf = async ({ file }: GivenFile) => new Uint8Array(await file.arrayBuffer());

/** What was given together with a `.gltf`, by its way from there. */
async function besideOf(
  given: GivenFile,
  all: readonly GivenFile[],
): Promise<Readonly<Record<string, Uint8Array>>> {
  if (!isGltf(given)) return {};
  const folder = folderOf(given.path);
  const others = all.filter(
    (other) => other !== given && formatOf(other.path) === null && other.path.startsWith(folder),
  );
  return Object.fromEntries(
    await Promise.all(
      others.map(async (other) => [other.path.slice(folder.length), await bytesOf(other)] as const),
    ),
  );
}

type Read = Exclude<Reading, { refusal: Finding }>;
type Beside = Readonly<Record<string, Uint8Array>>;

/** A file of several animations: what becomes of each is asked. */
interface Asked {
  readonly name: string;
  readonly animations: readonly AnimationInFile[];
  readonly answer: (taken: Taken | null) => void;
}

/** Opens files as shots, and says what it could not. `question` is to be drawn. */
export function useOpenFiles(): {
  readonly takeFiles: (files: readonly GivenFile[]) => Promise<void>;
  readonly open: (name: string, bytes: Uint8Array) => Promise<void>;
  readonly question: ReactNode;
} {
  const { message, notification } = App.useApp();
  const add = useAddShot();
  const keep = useKeepActions();
  const navigate = useNavigate();
  const [asked, setAsked] = useState<Asked | null>(null);

  const ask = (name: string, animations: readonly AnimationInFile[]) =>
    new Promise<Taken | null>((answer) => setAsked({ name, animations, answer })).finally(() =>
      setAsked(null),
    );
  const refuse = (name: string, description: string) =>
    notification.error({ title: `“${name}” was not opened`, description, duration: 0 });

  const read = async (
    name: string,
    bytes: Uint8Array,
    beside: Beside,
    animation?: number,
  ): Promise<Read | null> => {
    const closing = message.loading(`Reading ${name} …`, 0);
    try {
      const reading = await bridge.read(name, bytes, beside, animation);
      if (!('refusal' in reading)) return reading;
      const { line, path } = reading.refusal.where;
      refuse(name, reading.refusal.sentence + (line ? ` (line ${line})` : path ? ` (at ${path})` : ''));
      return null;
    } finally {
      closing();
    }
  };

  const say = (name: string, findings: readonly Finding[]) => {
    for (const { sentence } of findings.filter(({ code }) => !ASKED_ON_BENCH.has(code)))
      notification.info({ title: name, description: sentence, duration: 0 });
  };

  const store = async ({ shot, film, files }: Read): Promise<string> =>
    add.mutateAsync({ shot, film, files });

  /** @param beside given together with it: a `.gltf` may ask for some of it */
  const open = async (name: string, bytes: Uint8Array, beside: Beside = {}) => {
    if (formatOf(name) === null) {
      refuse(name, `Kneader reads ${READABLE.join(', ')}.`);
      return;
    }
    try {
      const reading = await read(name, bytes, beside);
      if (!reading) return;
      const { animations = [] } = reading;
      if (animations.length < 2) {
        say(name, reading.findings);
        void navigate(`/shots/${await store(reading)}`);
        return;
      }
      const taken = await ask(name, animations);
      if (!taken) return;
      say(
        name,
        reading.findings.filter(({ code }) => code !== 'gltfOtherAnimations'),
      );
      const ids: string[] = [];
      for (const { index, name: title } of taken.shots) {
        const one = index === 0 ? reading : await read(name, bytes, beside, index);
        if (one)
          ids.push(
            await store(taken.shots.length > 1 ? { ...one, shot: { ...one.shot, name: title } } : one),
          );
      }
      if (taken.actions.length > 0) {
        const actions = await bridge.actionsIn(name, bytes, beside, taken.actions);
        await keep.mutateAsync(actions.map((one) => ({ ...one, sameName: 'beside' as const })));
        notification.info({
          title: name,
          description: `In the pantry: ${taken.actions.map((one) => one.name).join(', ')}.`,
        });
      }
      if (ids[0]) void navigate(`/shots/${ids[0]}`);
    } catch (error) {
      notification.error({
        title: `“${name}” was not kept`,
        description: storageProblem(error),
        duration: 0,
      });
    }
  };

  const takeFiles = async (files: readonly GivenFile[]) => {
    const readable = files.filter(({ path }) => formatOf(path) !== null);
    // What lies beside a glTF is for it; alone it is said that it cannot be read.
    const own = readable.some(isGltf) ? readable : files;
    for (const one of own) await open(one.file.name, await bytesOf(one), await besideOf(one, files));
  };

  return {
    takeFiles,
    open,
    question: asked && <TakeAnimations key={asked.name} {...asked} />,
  };
}
