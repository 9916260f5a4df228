/** Aims the rays of the camera through pixels, as in render/camera-rays.ts. Aims are reckoned in 64 bits. */
import { Chain, Field, FILTER_STEPS, Lane, Ray, Scene, Way } from './layout';
import { entry, int, lane, laneInt, number, put, putInt, sceneInt, sceneNumber } from './memory';
import { draw, hash, pointX, pointY, reverseBits, take } from './sampler';
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

/** The camera's matrix at the time of the rays. */
let m0: f64 = 0;
let m1: f64 = 0;
let m2: f64 = 0;
let m4: f64 = 0;
let m5: f64 = 0;
let m6: f64 = 0;
let m8: f64 = 0;
let m9: f64 = 0;
let m10: f64 = 0;
let m12: f64 = 0;
let m13: f64 = 0;
let m14: f64 = 0;

function setMatrix(moves: bool, time: f64): void {
  m0 = element(0, moves, time);
  m1 = element(1, moves, time);
  m2 = element(2, moves, time);
  m4 = element(4, moves, time);
  m5 = element(5, moves, time);
  m6 = element(6, moves, time);
  m8 = element(8, moves, time);
  m9 = element(9, moves, time);
  m10 = element(10, moves, time);
  m12 = element(12, moves, time);
  m13 = element(13, moves, time);
  m14 = element(14, moves, time);
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
  setMatrix(false, 0);
  setOut(count);
  draw(PIXEL, count, Field.randomX, Field.randomY);
  for (let path = 0; path < count; path++) {
    const px = <f64>int(Field.x, path) + 0.5 + offset(number(Field.randomX, path));
    const py = <f64>int(Field.y, path) + 0.5 + offset(number(Field.randomY, path));
    const sx = ((px / width) * 2 - 1) * wide;
    const sy = (1 - (py / height) * 2) * tall;
    if (shutter > 0) {
      take(path, TIME);
      const time = pointX * shutter;
      put(Field.time, path, time);
      if (moves) setMatrix(true, time);
    }
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
    const vx = m0 * dx + m4 * dy - m8;
    const vy = m1 * dx + m5 * dy - m9;
    const vz = m2 * dx + m6 * dy - m10;
    const scale = 1 / sqrt<f64>(vx * vx + vy * vy + vz * vz);
    put(Field.originX, path, <f32>(m12 + m0 * lx + m4 * ly));
    put(Field.originY, path, <f32>(m13 + m1 * lx + m5 * ly));
    put(Field.originZ, path, <f32>(m14 + m2 * lx + m6 * ly));
    put(Field.directionX, path, <f32>(vx * scale));
    put(Field.directionY, path, <f32>(vy * scale));
    put(Field.directionZ, path, <f32>(vz * scale));
  }
}

/** Fills a whole array up to a number of paths, rounded up to vectors. */
// inline
function fill(field: i32, count: i32, value: v128): void {
  for (let path = 0; path < count; path += 4) v128.store(entry(field, path), value);
}

/** Nothing has happened to the paths yet, and nothing was found. */
function setOut(count: i32): void {
  const zero = i32x4.splat(0);
  const none = i32x4.splat(-1);
  const one = f32x4.splat(1);
  fill(Field.time, count, zero);
  fill(Field.kind, count, i32x4.splat(Ray.camera));
  fill(Field.mirror, count, none);
  fill(Field.rough, count, zero);
  fill(Field.mirrored, count, zero);
  fill(Field.density, count, zero);
  fill(Field.weightR, count, one);
  fill(Field.weightG, count, one);
  fill(Field.weightB, count, one);
  fill(Field.way, count, i32x4.splat(Way.background));
  fill(Field.sourceWay, count, i32x4.splat(Way.background));
  fill(Field.chain, count, i32x4.splat(Chain.none));
  fill(Field.chainRough, count, zero);
  fill(Field.chainObject, count, none);
  fill(Field.chainDepth, count, zero);
  fill(Field.seen, count, none);
  fill(Field.catches, count, zero);
  fill(Field.unshadowed, count, zero);
  fill(Field.lit, count, zero);
  fill(Field.open, count, one);
  memory.fill(laneInt(Lane.rows), 0, laneInt(Lane.rowBytes) * count);
  const layers = laneInt(Lane.layers);
  if (layers) memory.fill(laneInt(Lane.sights), 255, 8 * layers * count);
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
