/** Rays of the camera, of bounces and towards the sun, each kind timed apart. */
import { Field, WAVE } from '../kernels/rays/layout.ts';
import { DEFAULT_SETTINGS, GATHER_IDS, RAY, type Prepared, type Scene } from '../src/index.ts';
import { RayBatch, type Ray } from '../src/render/waves/ray-batch.ts';
import { Waves } from '../src/render/waves/waves.ts';
import type { Tell } from './report.ts';

export type RayKind = 'camera' | 'bounces' | 'shadows';
const KINDS: readonly RayKind[] = ['camera', 'bounces', 'shadows'];
const RUNS = 5;
const SAMPLES = 32;
/** Edge of the blocks of pixels that are looked at. */
const BLOCK = 8;

/** Rays to be timed: blocks of pixels for the camera, and rays that leave what the camera sees there. */
export interface RaySets {
  width: number;
  height: number;
  blocks: readonly (readonly [x: number, y: number])[];
  bounces: readonly Ray[];
  shadows: readonly Ray[];
}

/** Follows one set of rays; gives the milliseconds that the search took, and how many rays met or passed something. */
export type FollowRays = (kind: RayKind, sets: RaySets) => { ms: number; counted: number };

const QUADS = Array.from({ length: BLOCK * BLOCK }, (_, i) => {
  const [quad, of] = [i >> 2, i & 3];
  return [2 * (quad % 4) + (of & 1), 2 * (quad >> 2) + (of >> 1)] as const;
});

function wavesOf(prepared: Prepared, { width, height }: Pick<RaySets, 'width' | 'height'>): Waves {
  const settings = { ...DEFAULT_SETTINGS, width, height, gather: GATHER_IDS, apart: false };
  const waves = new Waves(prepared, settings);
  waves.begin();
  return waves;
}

/** Aims and follows the samples of a block, as many at a time as a wave holds. */
function eachWave(waves: Waves, [bx, by]: readonly [number, number], visit: (count: number) => void): void {
  const pixels = WAVE / SAMPLES;
  for (let first = 0; first < QUADS.length; first += pixels) {
    for (let p = 0; p < pixels; p++) {
      const [x, y] = QUADS[first + p]!;
      waves.kernel.addSamples(SAMPLES * p, bx + x, by + y, 0, SAMPLES);
    }
    waves.kernel.aim(WAVE);
    waves.kernel.meet(WAVE, 0);
    visit(WAVE);
  }
}

/** Rays as they occur in a picture of a scene. */
export function raySets(scene: Scene, prepared: Prepared, width: number, height: number): RaySets {
  const blocks: [number, number][] = [];
  for (let y = 0; y + BLOCK <= height; y += 9 * BLOCK)
    for (let x = 0; x + BLOCK <= width; x += 7 * BLOCK) blocks.push([x, y]);
  const waves = wavesOf(prepared, { width, height });
  let state = 7;
  const random = () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
  const [sx, sy, sz] = scene.suns[0]?.direction ?? [0.4, 0.8, 0.45];
  const bounces: Ray[] = [];
  const shadows: Ray[] = [];
  const at = (field: Field, path: number) => waves.numbers[WAVE * field + path]!;
  for (const block of blocks)
    eachWave(waves, block, (count) => {
      for (let path = 0; path < count; path++)
        waves.ints[WAVE * Field.active + path] = waves.ints[WAVE * Field.triangle + path]! < 0 ? -1 : path;
      const active = waves.ints.subarray(WAVE * Field.active, WAVE * Field.active + count);
      const left = active.filter((p) => p >= 0);
      active.set(left);
      waves.kernel.surfaces(left.length);
      for (let k = 0; k < left.length; k += 4) {
        const path = left[k]!;
        const [nx, ny, nz] = [0, 1, 2].map((a) => at(Field.flatX + a, path)) as [number, number, number];
        const [px, py, pz] = [0, 1, 2].map(
          (a) => at(Field.pointX + a, path) + 2e-4 * at(Field.flatX + a, path),
        ) as [number, number, number];
        const z = 2 * random() - 1;
        const r = Math.sqrt(1 - z * z);
        const phi = 2 * Math.PI * random();
        const [bx, by, bz] = [nx + r * Math.cos(phi), ny + r * Math.sin(phi), nz + z];
        const length = Math.hypot(bx, by, bz) || 1;
        const time = at(Field.time, path);
        bounces.push([px, py, pz, bx / length, by / length, bz / length, time]);
        if (nx * sx + ny * sy + nz * sz > 0) shadows.push([px, py, pz, sx + 0.01 * random(), sy, sz, time]);
      }
    });
  return { width, height, blocks, bounces, shadows };
}

/** Rays through the kernel. The camera's are aimed, too; of the others only the search is timed. */
export function followNow(prepared: Prepared): FollowRays {
  const batch = new RayBatch(prepared);
  return (kind, sets) => {
    let counted = 0;
    if (kind === 'camera') {
      const waves = wavesOf(prepared, sets);
      const triangles = waves.ints.subarray(WAVE * Field.triangle, WAVE * (Field.triangle + 1));
      const started = performance.now();
      for (const block of sets.blocks)
        eachWave(waves, block, () => (counted += triangles.reduce((n, t) => n + (t >= 0 ? 1 : 0), 0)));
      return { ms: performance.now() - started, counted };
    }
    let ms = 0;
    for (let from = 0; from < sets[kind].length; from += WAVE) {
      const rays = sets[kind].slice(from, from + WAVE);
      batch.load(rays, kind === 'shadows' ? RAY.shadow : RAY.bounce);
      const started = performance.now();
      if (kind === 'shadows') batch.pass();
      else batch.hit();
      ms += performance.now() - started;
      rays.forEach((_, i) => {
        if (kind === 'shadows' ? batch.passOf(i)[0] > 0 : batch.hitOf(i).triangle >= 0) counted++;
      });
    }
    return { ms, counted };
  };
}

/** Tells the rays a second of each kind, and how many times an earlier renderer's; the ways take turns, the best counts. */
export function rayFigures(tell: Tell, sets: RaySets, now: FollowRays, earlier?: FollowRays): void {
  for (const kind of KINDS) {
    const count = kind === 'camera' ? sets.blocks.length * BLOCK * BLOCK * SAMPLES : sets[kind].length;
    let [best, before] = [Infinity, Infinity];
    let found = { ms: 0, counted: 0 };
    let foundBefore = found;
    for (let run = 0; run < RUNS; run++) {
      if (earlier) before = Math.min(before, (foundBefore = earlier(kind, sets)).ms);
      best = Math.min(best, (found = now(kind, sets)).ms);
    }
    tell({
      name: `rays: ${kind}`,
      value: count / best / 1e3,
      unit: 'M/s',
      better: 'more',
      against: `${count} rays, of which ${found.counted} met or passed something`,
    });
    if (earlier)
      tell({
        name: `rays: ${kind}, against before`,
        value: before / best,
        unit: 'x faster',
        goal: 4,
        better: 'more',
        against: `${(count / before / 1e3).toFixed(2)} M/s, ${foundBefore.counted} met or passed something`,
      });
  }
}
