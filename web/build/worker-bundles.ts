import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build, type Plugin as BundlerPlugin } from 'esbuild';
import type { Plugin } from 'vite';

/** How a worker is started in the sources. */
const STARTED = /new URL\(\s*'\.\/([\w-]+)\.ts',\s*import\.meta\.url\s*\)/g;

/** Within the workers' bundle each lies beside the others, under its own name. */
const startedByWorkers: BundlerPlugin = {
  name: 'workers-start-workers',
  setup: (bundler) =>
    bundler.onLoad({ filter: /-worker\.ts$/ }, ({ path }) => ({
      loader: 'ts',
      contents: readFileSync(path, 'utf8').replace(STARTED, `new URL('./$1.js', import.meta.url)`),
    })),
};

/** What packages ask for on Node only: in a page it is empty, as Vite has it. */
const nothingOfNode: BundlerPlugin = {
  name: 'nothing-of-node',
  setup(bundler) {
    bundler.onResolve({ filter: /^(node:.*|fs|path)$/ }, ({ path }) => ({ path, namespace: 'nothing' }));
    bundler.onLoad({ filter: /.*/, namespace: 'nothing' }, () => ({ contents: 'module.exports = {}' }));
  },
};

/** Files of the workers' bundle by name: the workers, and the pieces that they share. */
async function bundle(entries: readonly string[]): Promise<{ name: string; contents: Uint8Array }[]> {
  const { outputFiles } = await build({
    entryPoints: entries.map((e) => fileURLToPath(new URL(`../${e}`, import.meta.url))),
    outdir: 'out',
    entryNames: '[name]',
    bundle: true,
    splitting: true,
    format: 'esm',
    minify: true,
    target: 'es2022',
    write: false,
    logLevel: 'error',
    define: { 'process.env.NODE_ENV': '"production"' },
    plugins: [startedByWorkers, nothingOfNode],
  });
  return outputFiles.map(({ path, contents }) => ({ name: basename(path), contents }));
}

/**
 * Builds the programs of the interface's worker threads in one go, with a bundler that takes a second or two for them:
 * Vite would go through all of the core again for each, which takes more than a minute. While developing, Vite serves
 * them as they are.
 *
 * @param entries the workers, relative to the interface's folder; pages and workers start them by
 *   `new Worker(new URL('./NAME.ts', import.meta.url), { type: 'module' })`
 */
export function workerBundles(entries: readonly string[]): Plugin {
  let base = '/';
  let made: Promise<{ folder: string; files: { name: string; contents: Uint8Array }[] }> | undefined;
  const names = new Set(entries.map((e) => basename(e, '.ts')));
  const make = async () => {
    const files = await bundle(entries);
    const sum = createHash('sha256');
    for (const { name, contents } of files) sum.update(name).update(contents);
    return { folder: `assets/workers-${sum.digest('base64url').slice(0, 8)}`, files };
  };
  return {
    name: 'worker-bundles',
    apply: 'build',
    enforce: 'pre',
    configResolved(config) {
      base = config.base;
    },
    async transform(code, id) {
      if (id.includes('/node_modules/') || code.search(STARTED) < 0) return undefined;
      const { folder } = await (made ??= make());
      return code.replace(STARTED, (whole, name: string) =>
        names.has(name) ? JSON.stringify(`${base}${folder}/${name}.js`) : whole,
      );
    },
    async generateBundle() {
      const { folder, files } = await (made ??= make());
      for (const { name, contents } of files)
        this.emitFile({ type: 'asset', fileName: `${folder}/${name}`, source: contents });
    },
  };
}
