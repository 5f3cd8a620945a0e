import { curvesIn, framesPerSecond, keyCount, rigOf, sourcesOf } from '@kneader/core';
import { openFile } from '../files.ts';
import type { Output } from './output.ts';

/** `kneader info FILE [--json]` */
export async function describe(
  path: string,
  { json, as }: { readonly json?: boolean; readonly as?: string },
  { print, warn }: Output,
): Promise<void> {
  const { shot, findings, holds = [], animations = [] } = await openFile(path, as);
  for (const { sentence } of findings) warn(sentence);
  const info = {
    name: shot.name,
    nodes: shot.nodes.length,
    channels: rigOf(shot).channels.length,
    animated: [...curvesIn(shot.curves, shot.nodes)].length,
    keys: keyCount(shot),
    range: shot.range,
    rate: framesPerSecond(shot.rate),
    layers: shot.layers.map(({ id, name, kind, range }) => ({ id, name, kind, range })),
    sources: sourcesOf(shot).map(({ name, bytes, morphs }) => ({
      ...{ name, bytes, morphs: morphs.reduce((sum, { channels }) => sum + channels.length, 0) },
    })),
    holds: Object.fromEntries(holds),
    animations: animations.map(({ name, seconds }) => ({ name, seconds: Math.round(seconds * 1e4) / 1e4 })),
  };
  if (json) print(JSON.stringify(info, null, 2));
  else {
    print(
      `${info.name}: ${info.nodes} nodes, ${info.channels} channels (${info.animated} animated), ${info.keys} keys`,
    );
    print(
      `frames ${info.range.start} to ${info.range.end} at ${Math.round(info.rate * 1000) / 1000} per second`,
    );
    for (const { name, bytes, morphs } of info.sources)
      print(
        `file: ${name}, ${(bytes / 1e6).toFixed(1)} MB: ${[...holds, ...(morphs > 0 ? [['morph targets', morphs] as const] : [])].map(([what, count]) => `${count} ${what}`).join(', ')}`,
      );
    if (info.animations.length > 0)
      print(
        `animations: ${info.animations.map(({ name, seconds }) => `${name} (${seconds.toFixed(2)} s)`).join(', ')}`,
      );
    if (info.layers.length > 0)
      print(`layers: ${info.layers.map(({ name, kind }) => `${name} (${kind})`).join(', ')}`);
  }
}
