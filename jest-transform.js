/**
 * swc for Jest, with the language's own objects as constants of each module. Tests run in a context of their own, in which every look at a global
 * name goes through a hook of Node's `vm`: in a loop over numbers `Math.abs` took most of the time.
 */
import { createTransformer } from '@swc/jest';

const NAMES = [
  'Math',
  'Infinity',
  'NaN',
  'Number',
  'Object',
  'Array',
  'Map',
  'Set',
  'WeakMap',
  'String',
  'JSON',
  'Float64Array',
  'Float32Array',
  'Int32Array',
  'Uint32Array',
  'Uint8Array',
  'DataView',
];

const prelude = (code) =>
  NAMES.filter((name) => new RegExp(`\\b${name}\\b`).test(code))
    .filter((name) => !new RegExp(`\\b(?:const|let|class|function|as)\\s+${name}\\b`).test(code))
    .filter((name) => !new RegExp(`import\\s*{[^}]*\\b${name}\\b[^}]*}`).test(code))
    .map((name) => `const ${name} = globalThis.${name};`)
    .join('');

export default {
  createTransformer(options) {
    const swc = createTransformer(options);
    const withPrelude = (result) => ({ ...result, code: prelude(result.code) + result.code });
    return {
      ...swc,
      process: (...given) => withPrelude(swc.process(...given)),
      processAsync: async (...given) => withPrelude(await swc.processAsync(...given)),
      getCacheKey: (...given) => `${swc.getCacheKey(...given)}-prelude-2`,
    };
  },
};
