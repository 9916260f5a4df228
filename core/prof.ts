import { readFileSync } from 'node:fs';
import { readGlb, DEFAULT_SETTINGS, prepare, TileRenderer } from './src/index.ts';
const scene = await readGlb(readFileSync('/work/main/demo/files/honey_table.glb'));
let t0 = performance.now();
const prepared = prepare(scene);
console.log('bvh', performance.now() - t0);
for (const light of [true, false]) {
  const r = new TileRenderer(prepared, { ...DEFAULT_SETTINGS, light, samples: 16 });
  const areas = [];
  for (let y = 0; y < 540; y += 90) for (let x = 0; x < 960; x += 96) areas.push({ x0: x, y0: y, x1: x + 32, y1: y + 32 });
  for (let k = 0; k < 2; k++) {
    t0 = performance.now();
    let rays = 0;
    for (const a of areas) rays += r.extend(r.begin(a), 16).rays;
    const s = performance.now() - t0;
    console.log(light, s.toFixed(0), 'ms', (rays / s / 1000).toFixed(3), 'Mrays/s', (areas.length * 1024 * 16 / s).toFixed(0), 'ksamples/s', rays / (areas.length * 1024 * 16));
  }
}
