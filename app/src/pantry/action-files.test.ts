/**
 * Actions as files and zips, against another package that packs and unpacks them (fflate).
 *
 * @jest-environment node
 */
import { describe, expect, test } from '@jest/globals';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { contentOf, readAction, shelf } from '@kneader/core';
import { openActionFile, zipOf } from './action-files.ts';

const actions = shelf().map(({ action }) => action);

describe('as files', () => {
  const all = actions.map((action, i) => ({ action, folder: i % 2 === 0 ? '' : 'head/small' }));

  test('a zip opens as it was packed, names that clash beside each other', async () => {
    const odd = { action: { ...actions[0]!, name: 'a/b: c?' }, folder: '../up' };
    const bytes = await zipOf([...all, all[0]!, odd]);
    expect(Object.keys(unzipSync(bytes)).filter((path) => path.startsWith('Blink'))).toHaveLength(2);
    expect(Object.keys(unzipSync(bytes)).some((path) => /[?:]/.test(path))).toBe(false);
    const { actions: opened, unopened } = await openActionFile('all.zip', bytes);
    expect(unopened).toEqual([]);
    const told = (some: readonly { action: (typeof actions)[0]; folder: string }[]) =>
      some.map(({ action, folder }) => [action.name, folder, contentOf(readAction(action))]);
    expect(told(opened.slice(0, 6))).toEqual(told(all));
    expect(opened).toHaveLength(8);
  });

  test('a bad member is named, and the others are there; what is no zip is said', async () => {
    const bytes = zipSync({
      'good.kneader-action.json': strToU8(JSON.stringify(actions[2])),
      'cut.kneader-action.json': strToU8(JSON.stringify(actions[2]).slice(0, 99)),
      'folder/other.json': strToU8('{"format": "kneader-shot"}'),
      'newer.kneader-action.json': strToU8(JSON.stringify({ ...actions[2], version: 7 })),
    });
    const { actions: opened, unopened } = await openActionFile('some.zip', bytes);
    expect(opened.map(({ action }) => action.name)).toEqual(['Shrug']);
    expect(unopened.map(({ file }) => file).sort()).toEqual([
      'cut.kneader-action.json',
      'folder/other.json',
      'newer.kneader-action.json',
    ]);
    for (const { sentence } of unopened) expect(sentence).toMatch(/^[A-Z].*\.$/);
    expect((await openActionFile('x.zip', strToU8('no zip'))).unopened[0]!.sentence).toMatch(/no zip/);
    expect((await openActionFile('x.zip', zipSync({}))).unopened).toHaveLength(1);
  });

  /** @param change of the bytes, at each place where a header of the member stands */
  const patched = (bytes: Uint8Array, change: (at: number, isCentral: boolean, view: DataView) => void) => {
    const copy = bytes.slice();
    const view = new DataView(copy.buffer);
    for (let at = 0; at + 4 <= copy.length; at += 1) {
      const signature = view.getUint32(at, true);
      // APPNOTE.TXT of the zip format, 4.3.7 and 4.3.12.
      if (signature === 0x04034b50 || signature === 0x02014b50) change(at, signature === 0x02014b50, view);
    }
    return copy;
  };
  const good = strToU8(JSON.stringify(actions[2]));
  const wordsOf = async (bytes: Uint8Array, most?: { bytes: number; members: number }) => {
    const { actions: opened, unopened } = await openActionFile('x.zip', bytes, () => true, most);
    return [opened.length, ...unopened.map(({ file, sentence }) => `${file}: ${sentence}`)];
  };

  test('an action of more than 160 kB is packed and opened like any other', async () => {
    const curve = (k: number) => ({
      times: Array.from({ length: 900 }, (_, i) => i),
      values: Array.from({ length: 900 }, (_, i) => Math.sin(i * (k + 1) * 0.37) * 90),
      tangentsIn: 4,
      tangentsOut: 4,
    });
    const curves = Object.fromEntries(Array.from({ length: 20 }, (_, k) => [`n${k}.rx`, curve(k)]));
    const large = readAction({ ...actions[0]!, length: 899, curves }).json;
    expect(JSON.stringify(large).length).toBeGreaterThan(300_000);
    const bytes = await zipOf([{ action: large, folder: '' }]);
    // Another package reads it.
    expect(Object.values(unzipSync(bytes))[0]!.length).toBe(JSON.stringify(large).length);
    const { actions: opened } = await openActionFile('x.zip', bytes);
    expect(contentOf(readAction(opened[0]!.action))).toEqual(contentOf(readAction(large)));
  });

  test('bytes that are not those that were packed, by their checksum, are said', async () => {
    const bytes = patched(zipSync({ 'a.json': good, 'b.json': good }), (at, isCentral, view) => {
      const place = at + (isCentral ? 16 : 14);
      const name = at + (isCentral ? 46 : 30);
      if (view.getUint8(name) === 'b'.charCodeAt(0)) view.setUint32(place, 0x12345678, true);
    });
    expect(await wordsOf(bytes)).toEqual([1, expect.stringMatching(/^b\.json: It is damaged/)]);
  });

  test('what comes out counts, whatever a member claims to be', async () => {
    const zeros = zipSync({ 'a.json': good, 'bomb.json': new Uint8Array(4e6), 'c.json': good });
    expect(zeros.length).toBeLessThan(8000);
    const most = { bytes: 1e6, members: 10 };
    expect(await wordsOf(zeros, most)).toEqual([
      1,
      expect.stringMatching(/^bomb\.json: It came to more than 1 MB/),
    ]);
    const lies = patched(zeros, (at, isCentral, view) => {
      if (view.getUint8(at + (isCentral ? 46 : 30)) === 'b'.charCodeAt(0))
        view.setUint32(at + (isCentral ? 24 : 22), 10, true);
    });
    const [opened, first] = await wordsOf(lies, most);
    expect(opened).toBeLessThanOrEqual(2);
    expect(first).toMatch(/^bomb\.json: It (came to more|is damaged)/);
    // One that claims 400 MB and is small is small.
    const claims = patched(zipSync({ 'a.json': good }), (at, isCentral, view) =>
      view.setUint32(at + (isCentral ? 24 : 22), 400e6, true),
    );
    expect((await wordsOf(claims, most)).slice(1).join()).not.toMatch(/came to more/);
  });

  test('members of one name, a name that means something to the language, ways that lead out, too many', async () => {
    const twice = patched(zipSync({ 'a1.json': good, 'a2.json': good }), (at, isCentral, view) =>
      view.setUint8(at + (isCentral ? 47 : 31), '1'.charCodeAt(0)),
    );
    expect(await wordsOf(twice)).toEqual([1, expect.stringMatching(/^a1\.json: Another file of that name/)]);
    const odd = patched(
      zipSync({ aaproto__: good, '../../up/x.json': good, '/abs/y.json': good, 'C:\\z\\w.json': good }),
      (at, isCentral, view) => {
        const name = at + (isCentral ? 46 : 30);
        if (view.getUint8(name) === 'a'.charCodeAt(0)) view.setUint16(name, 0x5f5f);
      },
    );
    const { actions: opened, unopened } = await openActionFile('x.zip', odd);
    expect([opened.length, unopened]).toEqual([4, []]);
    expect(opened.map(({ folder }) => folder)).toEqual(['', 'up', 'abs', 'z']);
    const many = zipSync({ 'a.json': good, 'b.json': good, 'c.json': good });
    expect(await wordsOf(many, { bytes: 1e6, members: 2 })).toEqual([
      2,
      expect.stringMatching(/It holds 3 files/),
    ]);
  });

  test('left on the way, what was read stays', async () => {
    const many = zipSync(Object.fromEntries(Array.from({ length: 40 }, (_, i) => [`${i + 10}.json`, good])));
    const { actions: opened, unopened } = await openActionFile('x.zip', many, (share) => share < 0.5);
    expect(opened).toHaveLength(32);
    expect(unopened[0]!.sentence).toMatch(/left after 32 of 40/);
  });
});
