/** Aims the rays of the camera through pixels, as in render/camera-rays.ts. Aims are reckoned in 64 bits. */
import { Chain, Field, FILTER_STEPS, Lane, Ray, Scene, Way } from './layout';
import { int, lane, laneInt, number, put, putInt, sceneInt, sceneNumber } from './memory';
import { hash, pointX, pointY, reverseBits, take } from './sampler';
import { cosine, sine, turn } from './arithmetic';

/** Pairs of sample dimensions that a ray from the camera takes. */
const PIXEL: i32 = 0;
const LENS: i32 = 1;
const TIME: i32 = 2;

/** Puts samples `from` to below `to` of a pixel into the wave at a place, as paths that go on. */
export function addSamples(place: i32, x: i32, y: i32, from: i32, to: i32): void {
  const seed = hash(x ^ hash(y ^ hash(laneInt(Lane.seed))));
  for (let i = from; i < to; i++, place++) {
    putInt(Field.x, place, x);
    putInt(Field.y, place, y);
    putInt(Field.sample, place, i);
    putInt(Field.pixelSeed, place, seed);
    // The index is only ever asked for with its bits reversed.
    putInt(Field.index, place, reverseBits(i));
    putInt(Field.active, place, place);
  }
}

/** Offset from the pixel's centre for a random number, by the filter's table. */
function offset(u: f32): f64 {
  const x: f32 = u * <f32>FILTER_STEPS;
  const i = <i32>x;
  const table: usize = laneInt(Lane.filter) + 4 * i;
  const a = load<f32>(table);
  return a + (load<f32>(table + 4) - a) * (x - <f32>i);
}

// inline
function element(k: i32, moves: bool, time: f64): f64 {
  const camera: usize = sceneInt(Scene.camera) + 8 * k;
  const value = load<f64>(camera);
  return moves ? value + time * (load<f64>(camera + 128) - value) : value;
}

/** Aims the paths at the places below `count` and sets them out anew. */
export function aim(count: i32): void {
  const width = <f64>laneInt(Lane.width);
  const height = <f64>laneInt(Lane.height);
  const wide = load<f64>(lane + 4 * Lane.wide);
  const tall = load<f64>(lane + 4 * Lane.tall);
  const moves = sceneInt(Scene.cameraMoves) != 0;
  const parallel = sceneInt(Scene.cameraParallel) != 0;
  const shutter = sceneNumber(Scene.shutter);
  const lens = <f64>sceneNumber(Scene.lensRadius);
  const focus = <f64>sceneNumber(Scene.focus);
  for (let path = 0; path < count; path++) {
    take(path, PIXEL);
    const sx = (((<f64>int(Field.x, path) + 0.5 + offset(pointX)) / width) * 2 - 1) * wide;
    const sy = (1 - ((<f64>int(Field.y, path) + 0.5 + offset(pointY)) / height) * 2) * tall;
    let time: f32 = 0;
    if (shutter > 0) {
      take(path, TIME);
      time = pointX * shutter;
    }
    put(Field.time, path, time);
    // In the camera's own frame, which looks along -z.
    let lx = parallel ? sx : 0;
    let ly = parallel ? sy : 0;
    let dx = parallel ? 0 : sx;
    let dy = parallel ? 0 : sy;
    if (lens > 0 && !parallel) {
      take(path, LENS);
      const r = sqrt<f64>(pointX) * lens;
      turn(pointY);
      lx = r * cosine;
      ly = r * sine;
      dx -= lx / focus;
      dy -= ly / focus;
    }
    const m0 = element(0, moves, time);
    const m1 = element(1, moves, time);
    const m2 = element(2, moves, time);
    const m4 = element(4, moves, time);
    const m5 = element(5, moves, time);
    const m6 = element(6, moves, time);
    const vx = m0 * dx + m4 * dy - element(8, moves, time);
    const vy = m1 * dx + m5 * dy - element(9, moves, time);
    const vz = m2 * dx + m6 * dy - element(10, moves, time);
    const scale = 1 / sqrt<f64>(vx * vx + vy * vy + vz * vz);
    put(Field.originX, path, <f32>(element(12, moves, time) + m0 * lx + m4 * ly));
    put(Field.originY, path, <f32>(element(13, moves, time) + m1 * lx + m5 * ly));
    put(Field.originZ, path, <f32>(element(14, moves, time) + m2 * lx + m6 * ly));
    put(Field.directionX, path, <f32>(vx * scale));
    put(Field.directionY, path, <f32>(vy * scale));
    put(Field.directionZ, path, <f32>(vz * scale));
    setOut(path);
  }
}

/** Nothing has happened to a path yet, and nothing was found. */
// inline
function setOut(path: i32): void {
  putInt(Field.kind, path, Ray.camera);
  putInt(Field.mirror, path, -1);
  putInt(Field.rough, path, 0);
  putInt(Field.mirrored, path, 0);
  put(Field.density, path, 0);
  put(Field.weightR, path, 1);
  put(Field.weightG, path, 1);
  put(Field.weightB, path, 1);
  putInt(Field.way, path, Way.background);
  putInt(Field.sourceWay, path, Way.background);
  putInt(Field.chain, path, Chain.none);
  put(Field.chainRough, path, 0);
  putInt(Field.chainObject, path, -1);
  putInt(Field.chainDepth, path, 0);
  putInt(Field.seen, path, -1);
  putInt(Field.catches, path, 0);
  put(Field.unshadowed, path, 0);
  put(Field.lit, path, 0);
  put(Field.open, path, 1);
  const rowBytes = laneInt(Lane.rowBytes);
  memory.fill(laneInt(Lane.rows) + rowBytes * path, 0, rowBytes);
  const layers = laneInt(Lane.layers);
  if (layers) memory.fill(laneInt(Lane.sights) + 8 * layers * path, 255, 8 * layers);
}

/** Depth of a path's hit along the camera's axis, as the shutter opens. */
export function depthOf(path: i32): f32 {
  const x = number(Field.directionX, path);
  const y = number(Field.directionY, path);
  const z = number(Field.directionZ, path);
  const along =
    <f64>x * element(8, false, 0) + <f64>y * element(9, false, 0) + <f64>z * element(10, false, 0);
  return <f32>(-along * number(Field.t, path));
}
