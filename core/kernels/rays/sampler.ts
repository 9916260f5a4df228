/**
 * Sample points as in render/sampler.ts: the first two Sobol dimensions with hashed Owen scrambling, four paths at a
 * time. Of each number the upper 24 bits count, which is what a float between 0 and 1 holds.
 */
import { entry, int } from './memory';
import { Field } from './layout';

const UNIT: f32 = 1.0 / 16777216.0;

/** The last point of {@link take}. */
export let pointX: f32 = 0;
export let pointY: f32 = 0;

export function hash(v: u32): u32 {
  v = (v ^ (v >>> 16)) * 0x7feb352d;
  v = (v ^ (v >>> 15)) * 0x846ca68b;
  return v ^ (v >>> 16);
}

export function reverseBits(v: u32): u32 {
  v = ((v >>> 1) & 0x55555555) | ((v & 0x55555555) << 1);
  v = ((v >>> 2) & 0x33333333) | ((v & 0x33333333) << 2);
  v = ((v >>> 4) & 0x0f0f0f0f) | ((v & 0x0f0f0f0f) << 4);
  v = ((v >>> 8) & 0x00ff00ff) | ((v & 0x00ff00ff) << 8);
  return (v >>> 16) | (v << 16);
}

function scrambleReversed(v: u32, seed: u32): u32 {
  v ^= v * 0x3d20adea;
  v += seed;
  v *= (seed >>> 16) | 1;
  v ^= v * 0x05526c56;
  return v ^ (v * 0x53a22864);
}

/** The second Sobol dimension, its bits reversed: the polynomial of an index's bits with x + 1 in place of x. */
function second(v: u32): u32 {
  v ^= (v >>> 16) & 0x0000ffff;
  v ^= (v >>> 8) & 0x00ff00ff;
  v ^= (v >>> 4) & 0x0f0f0f0f;
  v ^= (v >>> 2) & 0x33333333;
  return v ^ ((v >>> 1) & 0x55555555);
}

/** Draws a pair of dimensions for one path. */
export function take(path: i32, pair: i32): void {
  const seed = hash(int(Field.pixelSeed, path) + (pair + 1) * 0x9e3779b9);
  const index = reverseBits(scrambleReversed(int(Field.index, path), seed));
  pointX = <f32>(reverseBits(scrambleReversed(index, hash(seed + 1))) >>> 8) * UNIT;
  pointY = <f32>(reverseBits(scrambleReversed(second(index), hash(seed + 2))) >>> 8) * UNIT;
}

// inline
function splat(v: u32): v128 {
  return i32x4.splat(v);
}
// inline
function mixed(v: v128, shift: i32, factor: u32): v128 {
  return i32x4.mul(v128.xor(v, i32x4.shr_u(v, shift)), splat(factor));
}
// inline
function hashes(v: v128): v128 {
  v = mixed(v, 16, 0x7feb352d);
  v = mixed(v, 15, 0x846ca68b);
  return v128.xor(v, i32x4.shr_u(v, 16));
}
// inline
function swapped(v: v128, shift: i32, bits: u32): v128 {
  const m = splat(bits);
  return v128.or(v128.and(i32x4.shr_u(v, shift), m), i32x4.shl(v128.and(v, m), shift));
}
// inline
function reversed(v: v128): v128 {
  v = swapped(v, 1, 0x55555555);
  v = swapped(v, 2, 0x33333333);
  v = swapped(v, 4, 0x0f0f0f0f);
  return i8x16.swizzle(v, i8x16(3, 2, 1, 0, 7, 6, 5, 4, 11, 10, 9, 8, 15, 14, 13, 12));
}
// inline
function scrambled(v: v128, seed: v128): v128 {
  v = v128.xor(v, i32x4.mul(v, splat(0x3d20adea)));
  v = i32x4.add(v, seed);
  v = i32x4.mul(v, v128.or(i32x4.shr_u(seed, 16), splat(1)));
  v = v128.xor(v, i32x4.mul(v, splat(0x05526c56)));
  return v128.xor(v, i32x4.mul(v, splat(0x53a22864)));
}
// inline
function folded(v: v128, shift: i32, bits: u32): v128 {
  return v128.xor(v, v128.and(i32x4.shr_u(v, shift), splat(bits)));
}
// inline
function unit(v: v128): v128 {
  return f32x4.mul(f32x4.convert_i32x4_s(i32x4.shr_u(reversed(v), 8)), f32x4.splat(UNIT));
}

/** Draws a pair of dimensions for the first `count` active paths, in their order; arrays are written up to a multiple of four. */
export function draw(pair: i32, count: i32, toX: i32, toY: i32): void {
  const step = splat((pair + 1) * 0x9e3779b9);
  for (let k = 0; k < count; k += 4) {
    const a = int(Field.active, k);
    const b = int(Field.active, min(k + 1, count - 1));
    const c = int(Field.active, min(k + 2, count - 1));
    const d = int(Field.active, min(k + 3, count - 1));
    let seed = i32x4.splat(int(Field.pixelSeed, a));
    seed = i32x4.replace_lane(seed, 1, int(Field.pixelSeed, b));
    seed = i32x4.replace_lane(seed, 2, int(Field.pixelSeed, c));
    seed = i32x4.replace_lane(seed, 3, int(Field.pixelSeed, d));
    let index = i32x4.splat(int(Field.index, a));
    index = i32x4.replace_lane(index, 1, int(Field.index, b));
    index = i32x4.replace_lane(index, 2, int(Field.index, c));
    index = i32x4.replace_lane(index, 3, int(Field.index, d));
    seed = hashes(i32x4.add(seed, step));
    index = reversed(scrambled(index, seed));
    v128.store(entry(toX, k), unit(scrambled(index, hashes(i32x4.add(seed, splat(1))))));
    let other = folded(index, 16, 0x0000ffff);
    other = folded(other, 8, 0x00ff00ff);
    other = folded(other, 4, 0x0f0f0f0f);
    other = folded(other, 2, 0x33333333);
    other = folded(other, 1, 0x55555555);
    v128.store(entry(toY, k), unit(scrambled(other, hashes(i32x4.add(seed, splat(2))))));
  }
}
