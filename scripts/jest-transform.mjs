// Turns TypeScript into what Jest runs, and lets tests look up the globals of hot loops once a file. Packages whose
// loops are hot (jest.config.mjs lists them) are JavaScript already and get only the second.
//
// Jest runs every file in a context whose globals are asked for through an interceptor: a Math.min in a loop
// over pixels costs more there than the loop. A constant of the same name in the module costs nothing.
import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import swc from '@swc/jest';

const inner = swc.createTransformer({
  jsc: { parser: { syntax: 'typescript' }, target: 'es2022' },
  module: { type: 'es6' },
});
const HOT = [
  ...['Math', 'Number', 'Array', 'Object', 'Map', 'Set', 'NaN', 'Infinity', 'ArrayBuffer', 'DataView'],
  ...['Float32Array', 'Float64Array', 'Uint8Array', 'Uint8ClampedArray', 'Uint16Array', 'Uint32Array'],
  ...['Int8Array', 'Int16Array', 'Int32Array', 'BigInt', 'BigInt64Array', 'BigUint64Array'],
];

/** The source with a constant before it for each hot global it names and does not declare; lines stay. */
function withGlobals(source) {
  const used = HOT.filter(
    (name) =>
      new RegExp(`(?<![.\\w])${name}\\b`).test(source) &&
      !new RegExp(
        `\\b(const|let|var|function|class|interface|type|enum|import)\\b[^;=]*\\b${name}\\b\\s*[={(<]`,
      ).test(source),
  );
  return used.length ? `const { ${used.join(', ')} } = globalThis; ${source}` : source;
}

const own = createHash('sha1')
  .update(readFileSync(new URL(import.meta.url)))
  .digest('hex');

const isTypeScript = (path) => path.endsWith('.ts');

export default {
  process: (source, path, ...rest) =>
    isTypeScript(path) ? inner.process(withGlobals(source), path, ...rest) : { code: withGlobals(source) },
  processAsync: async (source, path, ...rest) =>
    isTypeScript(path)
      ? inner.processAsync(withGlobals(source), path, ...rest)
      : { code: withGlobals(source) },
  getCacheKey: (source, ...rest) => own + inner.getCacheKey(source, ...rest),
};
