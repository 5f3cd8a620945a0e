/** What jsdom lacks and the application's modules expect. */
import { TextDecoder, TextEncoder } from 'node:util';

Object.assign(globalThis, { TextDecoder, TextEncoder });
Object.assign(globalThis, {
  structuredClone: (value: unknown) => value,
  ResizeObserver: class {
    observe() {}
    disconnect() {}
  },
});
