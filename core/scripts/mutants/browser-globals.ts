/** The page that Jest's own environment would give to the application's suites: see warm-tests.ts. */
import { JSDOM } from 'jsdom';

const { window } = new JSDOM('<!doctype html>', { url: 'http://127.0.0.1/', pretendToBeVisual: true });
for (const name of Object.getOwnPropertyNames(window))
  if (!(name in globalThis))
    Object.defineProperty(globalThis, name, {
      configurable: true,
      get: () => (window as unknown as Record<string, unknown>)[name],
    });
Object.defineProperty(globalThis, 'document', { value: window.document, configurable: true });
Object.defineProperty(globalThis, 'window', { value: window, configurable: true });
await import(`${process.cwd()}/app/src/jest-setup.ts`);
