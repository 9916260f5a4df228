/**
 * npm run kernels: compiles the AssemblyScript of core/kernels/ and writes each kernel, a file or a folder with an
 * index.ts, as a TypeScript module that holds its bytes, so that browser, Node.js, tests and command line load the same
 * ones without reading a file.
 */
import { existsSync, mkdirSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const SOURCES = fileURLToPath(new URL('../kernels', import.meta.url));
const MADE = fileURLToPath(new URL('../src/kernels/generated', import.meta.url));

/** Kernels that work on memory which threads share and the caller makes; of the size that it needs. */
const SHARED = ['--enable', 'threads', '--importMemory', '--sharedMemory', '--maximumMemory', '65536'];
const KERNELS = [
  ...readdirSync(SOURCES)
    .filter((name) => name.endsWith('.ts'))
    .map((file) => ({ name: basename(file, '.ts'), file, more: [] })),
  ...readdirSync(SOURCES)
    .filter((name) => existsSync(join(SOURCES, name, 'index.ts')))
    .map((name) => ({ name, file: `${name}/index.ts`, more: SHARED })),
];

/**
 * A source as the compiler wants it. Functions whose calls shall become their text have a comment instead of the
 * compiler's decorator, which no other tool can read before a function.
 */
function source(name, folder) {
  const path = join(folder, name);
  return existsSync(path) ? readFileSync(path, 'utf8').replace(/^\/\/ inline$/gm, '@inline') : null;
}

mkdirSync(MADE, { recursive: true });
for (const { name, file, more } of KERNELS) {
  let bytes;
  const { error, stderr } = await asc.main(
    [
      file,
      '--baseDir',
      SOURCES,
      '--runtime',
      'stub',
      '--enable',
      'simd',
      '-O3',
      '--noAssert',
      ...more,
      '-o',
      'out.wasm',
    ],
    { readFile: source, writeFile: (path, data) => void (path === 'out.wasm' && (bytes = data)) },
  );
  if (error) throw new Error(`${file} cannot be compiled: ${stderr.toString()}`);
  const text = Buffer.from(bytes).toString('base64');
  writeFileSync(
    join(MADE, `${name}.ts`),
    `// Made from core/kernels/${file} by npm run kernels.\nexport const BYTES =\n  '${text}';\n`,
  );
}
