/**
 * npm run kernels: compiles the AssemblyScript of core/kernels/ and writes each kernel as a TypeScript module that holds
 * its bytes, so that browser, Node.js, tests and command line load the same ones without reading a file.
 */
import { mkdirSync, readdirSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import asc from 'assemblyscript/asc';

const SOURCES = fileURLToPath(new URL('../kernels', import.meta.url));
const MADE = fileURLToPath(new URL('../src/kernels/generated', import.meta.url));

mkdirSync(MADE, { recursive: true });
for (const file of readdirSync(SOURCES).filter((name) => name.endsWith('.ts'))) {
  const name = basename(file, '.ts');
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
      '-o',
      'out.wasm',
    ],
    { writeFile: (path, data) => void (path === 'out.wasm' && (bytes = data)) },
  );
  if (error) throw new Error(`${file} cannot be compiled: ${stderr.toString()}`);
  const text = Buffer.from(bytes).toString('base64');
  writeFileSync(
    join(MADE, `${name}.ts`),
    `// Made from core/kernels/${file} by npm run kernels.\nexport const BYTES =\n  '${text}';\n`,
  );
}
