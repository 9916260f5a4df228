/** npm run bench: speeds as ratios within one run, so that they can be compared between machines. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { buildIdIndex, CORRECTIONS, type RankPlanes } from '../src/index.ts';
import { MemberMask } from '../src/masks/who/member-mask.ts';
import { readExr } from '../src/formats/exr/read.ts';
import { writeExr } from '../src/formats/exr/write.ts';
import { nodeZlib } from '../node/zlib.ts';
import { benchRenderer } from './renderer.ts';

const WIDTH = 3840;
const HEIGHT = 2160;
const MEMBERS = 400;

/** Median milliseconds of some runs, after one that does not count. */
function time(work: () => void, runs = 5): number {
  work();
  const times = Array.from({ length: runs }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[runs >> 1]!;
}
const row = (name: string, ms: number, ratio = '') =>
  console.log(`${name.padEnd(46)} ${ms.toFixed(1).padStart(9)} ms  ${ratio}`);

/** A frame of round things in rows, with soft edges of two IDs: 400 IDs, 6 ranks. */
function frame(): RankPlanes {
  const planes: RankPlanes = {
    width: WIDTH,
    height: HEIGHT,
    ids: Array.from({ length: 6 }, () => new Uint32Array(WIDTH * HEIGHT)),
    coverage: Array.from({ length: 6 }, () => new Float32Array(WIDTH * HEIGHT)),
  };
  const cell = Math.sqrt((WIDTH * HEIGHT) / MEMBERS);
  const across = Math.ceil(WIDTH / cell);
  for (let y = 0, p = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, p++) {
      const cx = Math.floor(x / cell);
      const cy = Math.floor(y / cell);
      const d = Math.hypot(x - (cx + 0.5) * cell, y - (cy + 0.5) * cell) - cell * 0.42;
      const c = Math.min(1, Math.max(0, 0.5 - d / 3));
      const own = Math.imul(cy * across + cx + 1, 0x9e3779b1) >>> 0;
      const wall = 0x3f000001;
      const front = c >= 0.5;
      planes.ids[0]![p] = front ? own : wall;
      planes.coverage[0]![p] = front ? c : 1 - c;
      if (c > 0 && c < 1) {
        planes.ids[1]![p] = front ? wall : own;
        planes.coverage[1]![p] = front ? 1 - c : c;
      }
    }
  return planes;
}

console.log(`ID index and masks, ${WIDTH}x${HEIGHT}, ${MEMBERS} IDs, 6 ranks`);
const planes = frame();
const plane = new Float32Array(WIDTH * HEIGHT).fill(1);
const target = new Float32Array(WIDTH * HEIGHT);
const copy = time(() => target.set(plane));
const times = (ms: number) => `${(ms / copy).toFixed(2)} x copying a plane`;
row('copy one plane', copy);
const build = time(() => void buildIdIndex(planes), 3);
row('build the index', build, times(build));
const index = buildIdIndex(planes);
const ids = Array.from(index.ids).filter((id) => id !== 0x3f000001);
const twenty = time(() => new MemberMask(index).setMembers(new Set(ids.slice(0, 20))));
row('mask of 20 members', twenty, times(twenty));
const some = new Set(ids.slice(0, 20));
const more = new Set(ids.slice(0, 21));
const mask = new MemberMask(index);
const adding: number[] = [];
for (let i = 0; i < 21; i++) {
  mask.setMembers(some);
  const start = performance.now();
  mask.setMembers(more);
  adding.push(performance.now() - start);
}
const add = adding.sort((a, b) => a - b)[10]!;
row('add one member', add, times(add));

console.log('\nOpenEXR, the demo render repeated to 3840x2160');
const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-bench-'));
const demo = new URL('../../demo/files/', import.meta.url);
const source = join(folder, 'large.exr');
{
  const image = readExr(new Uint8Array(readFileSync(new URL('honey_table_v1.exr', demo))));
  const channels = image.channels.map((c) => {
    const data = new (c.data.constructor as new (n: number) => typeof c.data)(WIDTH * HEIGHT);
    for (let y = 0; y < HEIGHT; y++)
      for (let k = 0; k < 4; k++)
        data.set(c.data.subarray((y % 540) * 960, ((y % 540) + 1) * 960) as never, y * WIDTH + k * 960);
    return { ...c, data };
  });
  const dataWindow = { xMin: 0, yMin: 0, xMax: WIDTH - 1, yMax: HEIGHT - 1 };
  writeFileSync(
    source,
    writeExr({ ...image.header, dataWindow, displayWindow: dataWindow, channels }, { zlib: nodeZlib }),
  );
}
const bytes = new Uint8Array(readFileSync(source));
const decode = time(() => void readExr(bytes), 3);
const image = readExr(bytes);
const encode = time(
  () => void writeExr({ ...image.header, channels: image.channels }, { zlib: nodeZlib }),
  3,
);
// The tool's start and its writing of one tiny channel are part of its time; -threads 1 makes it use one core, as ours.
const tool = (...args: string[]) =>
  time(() => void execFileSync('oiiotool', ['--threads', '1', ...args], { stdio: 'ignore' }), 3);
const toolDecode = tool(source, '--stats');
const toolBoth = tool(source, '--compression', 'zip', '-o', join(folder, 'tool.exr'));
row('decode', decode);
row(
  'decode and compute statistics, oiiotool',
  toolDecode,
  `ours takes ${(decode / toolDecode).toFixed(2)} x as long`,
);
row('decode and encode', decode + encode);
row(
  'decode and encode, oiiotool',
  toolBoth,
  `ours takes ${((decode + encode) / toolBoth).toFixed(2)} x as long`,
);

console.log('\nCorrections, per megapixel');
const count = 1 << 20;
for (const c of CORRECTIONS) {
  const fresh = () => Float32Array.from({ length: count }, (_, i) => 0.05 + ((i * 7919) % 1000) / 1000);
  const pixels = { count, r: fresh(), g: fresh(), b: fresh(), at: new Uint32Array(count) };
  const values = Object.fromEntries(c.fields.map((p) => [p.key, p.key === 'stops' ? 0.01 : 20]));
  row(
    c.label,
    time(() => c.works === 'pixel' && c.apply(pixels, values), 5),
  );
}

await benchRenderer();
