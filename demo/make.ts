/**
 * Builds the demo scene and, with `--render`, the version that ships with the repository.
 *   npm run demo -- [--render] [--samples N]
 */
import { mkdirSync, writeFileSync } from 'node:fs';
import { parseArgs } from 'node:util';
import { deflateSync } from 'node:zlib';
import { DEFAULT_SETTINGS, readGlb } from '@zesty-crow/core';
import { nodeZlib, renderScene } from '@zesty-crow/core/node';
import { honeyTable } from './scene/honey-table.ts';

const { values } = parseArgs({
  options: {
    render: { type: 'boolean' },
    samples: { type: 'string', default: '1024' },
    width: { type: 'string', default: '960' },
    out: { type: 'string' },
  },
});
const folder = new URL('./files/', import.meta.url);
mkdirSync(folder, { recursive: true });
const glb = await honeyTable();
writeFileSync(new URL('honey_table.glb', folder), glb);
console.log(`honey_table.glb: ${(glb.length / 2 ** 20).toFixed(1)} MiB`);
if (values.render) {
  const scene = await readGlb(glb);
  const width = Number(values.width);
  const settings = {
    ...DEFAULT_SETTINGS,
    samples: Number(values.samples),
    bounces: 2,
    width,
    height: Math.round((width * 9) / 16),
  };
  const started = performance.now();
  const film = await renderScene(scene, settings, {
    onProgress: (d) => process.stdout.write(`\r${(100 * d).toFixed(1)} %`),
  });
  const exr = film.toExr(scene, {
    zlib: { ...nodeZlib, deflate: (data) => deflateSync(data, { level: 9 }) },
  });
  writeFileSync(values.out ?? new URL('honey_table_v1.exr', folder), exr);
  const seconds = (performance.now() - started) / 1000;
  console.log(
    `${scene.indices.length / 3} triangles, ${seconds.toFixed(0)} s, ${(film.rays / seconds / 1e6).toFixed(2)} Mrays/s, ${(exr.length / 2 ** 20).toFixed(1)} MiB`,
  );
}
