/** Shot files that hold the files of their characters. */
import { describe, expect, test } from '@jest/globals';
import { sourcesOf } from '../../document/sources.ts';
import { skinnedFile } from '../../testing/skinned-file.ts';
import { formatOf } from '../formats.ts';
import { readFile } from '../read-file.ts';

describe('a shot file that holds the files of its characters', () => {
  const made = async () => {
    const read = await readFile('someone.glb', await skinnedFile(8));
    const text = (await formatOf('x.kneader.json')!.write(read.shot, read.files)) as string;
    return { read, text };
  };
  const again = (text: string) => readFile('someone.kneader.json', new TextEncoder().encode(text));

  test('opens as it was, to the byte, and says nothing; it is a shot file in all else', async () => {
    const { read, text } = await made();
    const { shot, files, findings } = await again(text);
    expect([shot, files, findings]).toEqual([read.shot, read.files, []]);
    expect(formatOf('x.kneader.json')!.lost(read.shot, read.files)).toEqual([]);
    const { files: held, ...rest } = JSON.parse(text) as Record<string, unknown>;
    expect(Object.keys(held as object)).toEqual([sourcesOf(read.shot)[0]!.id]);
    expect(rest).toEqual(JSON.parse((await formatOf('x.kneader.json')!.write(read.shot)) as string));
  });

  test('one that holds other bytes, half of them, none, or no base64 opens without, and says so', async () => {
    const { read, text } = await made();
    const { id } = sourcesOf(read.shot)[0]!;
    const { base64 } = (JSON.parse(text) as { files: Record<string, { base64: string }[]> }).files[id]![0]!;
    for (const files of [
      { [id]: [{ name: 'someone.glb', base64: base64.slice(0, base64.length >> 1).replace(/=+$/, '') }] },
      { [id]: [{ name: 'someone.glb', base64: `${base64.slice(0, 99)}*${base64.slice(100)}` }] },
      { [id]: [{ name: 'someone.glb', base64: `AAAA${base64.slice(4)}` }] },
      { [id]: [] },
      { other: [{ name: 'someone.glb', base64 }] },
      { __proto__: null },
      'no list at all',
      null,
    ]) {
      const { shot, files: found, findings } = await again(JSON.stringify({ ...JSON.parse(text), files }));
      expect([shot, found?.size, findings.map(({ code }) => code)]).toEqual([
        read.shot,
        0,
        ['heldFileOther'],
      ]);
      expect(shot.extras).toEqual({});
    }
  });
});
