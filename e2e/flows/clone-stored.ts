/** Hundreds of stored shots without making each. */
import type { Page } from '@playwright/test';

/** Clones the one stored shot, with all that stands beside it, under other ids and names. */
export async function cloneStored(page: Page, count: number): Promise<void> {
  await page.evaluate(async (count) => {
    const open = <Value>(request: IDBRequest<Value>) =>
      new Promise<Value>((resolve, reject) => {
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error!);
      });
    const base = await open(indexedDB.open('kneader'));
    const stores = ['heads', 'shot-films', 'records', 'stamps', 'lots'];
    const work = base.transaction(stores, 'readwrite');
    const store = (name: string) => work.objectStore(name);
    const [id] = (await open(store('records').getAllKeys())) as string[];
    const all = await Promise.all(
      stores.map(async (name) => {
        const keys = (await open(store(name).getAllKeys())) as string[];
        return Promise.all(
          keys.map(async (key) => [name, key, (await open(store(name).get(key))) as object] as const),
        );
      }),
    );
    for (let i = 1; i <= count; i += 1)
      for (const [name, key, value] of all.flat().filter(([, one]) => one.startsWith(id!))) {
        const copy = key.replace(id!, `copy-${i}`);
        const head = { ...value, id: copy, name: `Copy ${i}`, savedAt: Date.now() - i * 60_000 };
        store(name).put(name === 'heads' ? head : name === 'records' ? { ...value, id: copy } : value, copy);
      }
    await new Promise((resolve) => (work.oncomplete = resolve));
    base.close();
  }, count);
}
