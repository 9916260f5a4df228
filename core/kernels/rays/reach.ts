/**
 * What the rays of a block of pixels, and of a quad of two by two in it, can reach at all, for a camera that is a point
 * at rest. A quad is looked at by many samples, and few triangles are within reach of all of them together: each sample
 * then tests those few instead of the tree, or none, if one triangle fills the whole quad and nothing is before it.
 */
import { Alpha, Field, Lane, Material, PACKET_BYTES, Part, Ray, Scene } from './layout';
import { int, laneInt, number, packets, partOf, sceneInt, sceneNumber, stack, trianglePart } from './memory';
import {
  bottom,
  eyeX,
  eyeY,
  eyeZ,
  left,
  m,
  p0x,
  p0y,
  p0z,
  p1x,
  p1y,
  p1z,
  p2x,
  p2y,
  p2z,
  p3x,
  p3y,
  p3z,
  right,
  setBeam,
  setEye,
  top,
} from './beam';
import { BLOCK_BYTES, gatherBlock, movesInBeam, packetCount } from './block';
import { materialOf } from './textures';
import { setHit } from './tree';

/** Most triangles that are tested one by one. */
const MOST_LISTED: i32 = 96;

/** Edges of a block and of a quad, in pixels, as powers of two. */
const BLOCK_BITS: i32 = 3;
const QUAD_BITS: i32 = 1;
/** Margin of what is compared, for the rounding of 32 bits. */
const MARGIN: f64 = 1e-5;

/** What all samples of a pixel are sure to see: a part, nothing, or it is not known. */
export const NOTHING: i32 = -1;
export const UNSURE: i32 = -2;

/** Memory of the thread: the block's packets and boxes, the triangles that were found, and the list in packets. */
const FOUND_AT: usize = BLOCK_BYTES;
/** A found triangle: ten numbers of 64 bits for its test, its least depth, its number and its place. */
const FOUND_BYTES: usize = 96;
const ORDER_AT: usize = FOUND_AT + FOUND_BYTES * MOST_LISTED;
const LIST_AT: usize = ORDER_AT + 4 * MOST_LISTED;
/** Four listed triangles: ten rows of numbers, numbers and places, and the distance before which none can be met. */
const LIST_BYTES: usize = 208;

export function reachBytes(): i32 {
  return <i32>(LIST_AT + LIST_BYTES * (MOST_LISTED / 4 + 1));
}

let blockX: i32 = -1;
let blockY: i32 = -1;
let blockKnown: bool = false;
let quadX: i32 = -1;
let quadY: i32 = -1;
let quadListed: bool = false;
let quadSure: i32 = UNSURE;
let listCount: i32 = 0;
let foundCount: i32 = 0;
let at: usize = 0;

/** Forgets what was found, before another scene or picture. */
export function forgetReach(): void {
  blockX = blockY = quadX = quadY = -1;
  at = laneInt(Lane.reach);
  setEye();
}

/** Which of a packet's triangles lie wholly outside one of the beam's planes. */
// inline
function trianglesBeyond(packet: usize, x: f32, y: f32, z: f32): v128 {
  const X = f32x4.splat(x);
  const Y = f32x4.splat(y);
  const Z = f32x4.splat(z);
  const a = f32x4.add(
    f32x4.add(
      f32x4.mul(X, f32x4.sub(v128.load(packet), f32x4.splat(eyeX))),
      f32x4.mul(Y, f32x4.sub(v128.load(packet + 16), f32x4.splat(eyeY))),
    ),
    f32x4.mul(Z, f32x4.sub(v128.load(packet + 32), f32x4.splat(eyeZ))),
  );
  const b = f32x4.add(
    f32x4.add(f32x4.mul(X, v128.load(packet + 48)), f32x4.mul(Y, v128.load(packet + 64))),
    f32x4.mul(Z, v128.load(packet + 80)),
  );
  const c = f32x4.add(
    f32x4.add(f32x4.mul(X, v128.load(packet + 96)), f32x4.mul(Y, v128.load(packet + 112))),
    f32x4.mul(Z, v128.load(packet + 128)),
  );
  return f32x4.lt(f32x4.add(a, f32x4.max(f32x4.splat(0), f32x4.max(b, c))), f32x4.splat(0));
}

/** Lists the triangles in the quad; false if there are too many, or such as cannot be listed. */
function find(): bool {
  foundCount = 0;
  for (let i = 0; i < packetCount; i++) {
    const number = load<i32>(at + 4 * i);
    const packet = packets + PACKET_BYTES * number;
    let out = v128.or(trianglesBeyond(packet, p0x, p0y, p0z), trianglesBeyond(packet, p1x, p1y, p1z));
    if (i32x4.bitmask(out) == 15) continue;
    out = v128.or(
      out,
      v128.or(trianglesBeyond(packet, p2x, p2y, p2z), trianglesBeyond(packet, p3x, p3y, p3z)),
    );
    let inside = i32x4.bitmask(out) ^ 15;
    while (inside) {
      const c = ctz(inside);
      inside &= inside - 1;
      const triangle = load<i32>(packet + 144 + 4 * c);
      if (triangle < 0) continue;
      const part = partOf(triangle);
      if (!(load<i32>(part + 4 * Part.visible) & Ray.camera)) continue;
      // What has holes may let a ray pass.
      if (load<i32>(materialOf(part) + 4 * Material.alphaMode) != Alpha.opaque) return false;
      if (foundCount == MOST_LISTED) return false;
      add(packet + 4 * c, triangle, 4 * number + c);
    }
  }
  return true;
}

/**
 * Adds a triangle with what its test needs for rays that all leave from the camera's point: with the corner A, edges E1
 * and E2 and T = O - A, the terms of Möller and Trumbore are products of the direction with -(E1 x E2), E2 x T and
 * T x E1, and the constant E2 (T x E1).
 */
function add(from: usize, triangle: i32, place: i32): void {
  const to = at + FOUND_AT + FOUND_BYTES * foundCount++;
  const e1x = <f64>load<f32>(from + 48);
  const e1y = <f64>load<f32>(from + 64);
  const e1z = <f64>load<f32>(from + 80);
  const e2x = <f64>load<f32>(from + 96);
  const e2y = <f64>load<f32>(from + 112);
  const e2z = <f64>load<f32>(from + 128);
  const tx = m(12) - <f64>load<f32>(from);
  const ty = m(13) - <f64>load<f32>(from + 16);
  const tz = m(14) - <f64>load<f32>(from + 32);
  store<f64>(to, e2y * e1z - e2z * e1y);
  store<f64>(to + 8, e2z * e1x - e2x * e1z);
  store<f64>(to + 16, e2x * e1y - e2y * e1x);
  store<f64>(to + 24, e2y * tz - e2z * ty);
  store<f64>(to + 32, e2z * tx - e2x * tz);
  store<f64>(to + 40, e2x * ty - e2y * tx);
  const qx = ty * e1z - tz * e1y;
  const qy = tz * e1x - tx * e1z;
  const qz = tx * e1y - ty * e1x;
  store<f64>(to + 48, qx);
  store<f64>(to + 56, qy);
  store<f64>(to + 64, qz);
  store<f64>(to + 72, e2x * qx + e2y * qy + e2z * qz);
  // Depth along the camera's axis; directions are longer than it, so a hit is never nearer than its depth.
  const ax = m(1) * m(6) - m(2) * m(5);
  const ay = m(2) * m(4) - m(0) * m(6);
  const az = m(0) * m(5) - m(1) * m(4);
  const volume = -(ax * m(8) + ay * m(9) + az * m(10));
  const a = -(ax * tx + ay * ty + az * tz) / volume;
  const b = (ax * e1x + ay * e1y + az * e1z) / volume;
  const c = (ax * e2x + ay * e2y + az * e2z) / volume;
  store<f32>(to + 80, <f32>(a + min<f64>(0, min<f64>(b, c))));
  store<i32>(to + 84, triangle);
  store<i32>(to + 88, place);
}

/**
 * Greatest depth of a found triangle if it fills the whole quad, infinity if it does not, -1 if it is not in it: the
 * quad's corners then all lie beyond one of its edges, or before it.
 */
function filledUpTo(found: usize): f64 {
  let deepest: f64 = 0;
  let side: f64 = 0;
  let inside = 0;
  let beyondU = 0;
  let beyondV = 0;
  let beyondW = 0;
  let behind = 0;
  for (let c = 0; c < 4; c++) {
    const across = c == 0 || c == 3 ? left : right;
    const up = c < 2 ? top : bottom;
    const x = m(0) * across + m(4) * up - m(8);
    const y = m(1) * across + m(5) * up - m(9);
    const z = m(2) * across + m(6) * up - m(10);
    const det = x * load<f64>(found) + y * load<f64>(found + 8) + z * load<f64>(found + 16);
    // Seen edge-on from within the quad.
    if (det == 0 || det * side < 0) return f64.MAX_VALUE;
    side = det;
    const u = (x * load<f64>(found + 24) + y * load<f64>(found + 32) + z * load<f64>(found + 40)) / det;
    const v = (x * load<f64>(found + 48) + y * load<f64>(found + 56) + z * load<f64>(found + 64)) / det;
    const t = load<f64>(found + 72) / det;
    if (u > MARGIN && v > MARGIN && u + v < 1 - MARGIN && t > 0) inside++;
    if (t <= 0) behind++;
    if (u < -MARGIN) beyondU++;
    if (v < -MARGIN) beyondV++;
    if (u + v > 1 + MARGIN) beyondW++;
    // One over the depth changes evenly over the quad: the corners hold its extremes.
    deepest = max<f64>(deepest, t);
  }
  if (behind == 4 || beyondU == 4 || beyondV == 4 || beyondW == 4) return -1;
  return inside == 4 ? deepest : f64.MAX_VALUE;
}

/** Orders the found triangles by their least depth, leaves out what is hidden, and judges what is sure to be seen. */
function order(): void {
  let hidden = f64.MAX_VALUE;
  for (let i = 0; i < foundCount; i++) {
    const found = at + FOUND_AT + FOUND_BYTES * i;
    const depth = filledUpTo(found);
    if (depth < 0) store<f32>(found + 80, f32.MAX_VALUE);
    else hidden = min<f64>(hidden, depth);
  }
  const limit = hidden * (1 + MARGIN);
  let count = 0;
  for (let i = 0; i < foundCount; i++) {
    const depth = load<f32>(at + FOUND_AT + FOUND_BYTES * i + 80);
    if (depth == f32.MAX_VALUE || depth > limit) continue;
    let to = count++;
    for (; to > 0; to--) {
      const before = load<i32>(at + ORDER_AT + 4 * (to - 1));
      if (load<f32>(at + FOUND_AT + FOUND_BYTES * before + 80) <= depth) break;
      store<i32>(at + ORDER_AT + 4 * to, before);
    }
    store<i32>(at + ORDER_AT + 4 * to, i);
  }
  listCount = (count + 3) >> 2;
  quadSure = count == 0 ? NOTHING : UNSURE;
  let same = hidden < f64.MAX_VALUE;
  let part = -1;
  for (let i = 0; i < 4 * listCount; i++) {
    const list = at + LIST_AT + LIST_BYTES * (i >> 2);
    const c = 4 * (i & 3);
    if (i >= count) {
      // A test that fails: the determinant is zero.
      for (let row = 0; row < 10; row++) store<f32>(list + 16 * row + c, 0);
      continue;
    }
    const found = at + FOUND_AT + FOUND_BYTES * load<i32>(at + ORDER_AT + 4 * i);
    for (let row = 0; row < 10; row++) store<f32>(list + 16 * row + c, <f32>load<f64>(found + 8 * row));
    const triangle = load<i32>(found + 84);
    store<i32>(list + 160 + c, triangle);
    store<i32>(list + 176 + c, load<i32>(found + 88));
    if ((i & 3) == 0) store<f32>(list + 192, load<f32>(found + 80));
    const its = load<i32>(trianglePart + 4 * triangle);
    if (i > 0 && its != part) same = false;
    part = its;
  }
  if (count > 0 && same) quadSure = part;
}

function enterQuad(x: i32, y: i32): void {
  quadX = x;
  quadY = y;
  quadListed = false;
  quadSure = UNSURE;
  if (sceneInt(Scene.cameraMoves) || sceneInt(Scene.cameraParallel) || sceneNumber(Scene.lensRadius) > 0)
    return;
  const bits = BLOCK_BITS - QUAD_BITS;
  if (x >> bits != blockX || y >> bits != blockY) {
    blockX = x >> bits;
    blockY = y >> bits;
    setBeam(
      blockX << BLOCK_BITS,
      blockY << BLOCK_BITS,
      (blockX + 1) << BLOCK_BITS,
      (blockY + 1) << BLOCK_BITS,
    );
    blockKnown = gatherBlock();
  }
  if (!blockKnown) return;
  setBeam(x << QUAD_BITS, y << QUAD_BITS, (x + 1) << QUAD_BITS, (y + 1) << QUAD_BITS);
  if (movesInBeam() || !find()) return;
  order();
  quadListed = true;
}

/** What all samples of a pixel are sure to see. */
export function surely(x: i32, y: i32): i32 {
  if (x >> QUAD_BITS != quadX || y >> QUAD_BITS != quadY) enterQuad(x >> QUAD_BITS, y >> QUAD_BITS);
  return quadSure;
}

/** Finds what a path from the camera hits first by its quad's list; false if there is no list. */
export function listed(path: i32): bool {
  const x = int(Field.x, path) >> QUAD_BITS;
  const y = int(Field.y, path) >> QUAD_BITS;
  if (x != quadX || y != quadY) enterQuad(x, y);
  if (!quadListed) return false;
  const dx = number(Field.directionX, path);
  const dy = number(Field.directionY, path);
  const dz = number(Field.directionZ, path);
  const DX = f32x4.splat(dx);
  const DY = f32x4.splat(dy);
  const DZ = f32x4.splat(dz);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  let best = f32.MAX_VALUE;
  setHit(best, 0, 0, -1, 0);
  const scratch = stack - 64;
  let list = at + LIST_AT;
  for (let n = 0; n < listCount; n++, list += LIST_BYTES) {
    if (load<f32>(list + 192) >= best) break;
    const inverse = f32x4.div(one, dot(list, 0, DX, DY, DZ));
    const u = f32x4.mul(dot(list, 3, DX, DY, DZ), inverse);
    const v = f32x4.mul(dot(list, 6, DX, DY, DZ), inverse);
    const t = f32x4.mul(v128.load(list + 144), inverse);
    const inside = v128.and(v128.and(f32x4.ge(u, zero), f32x4.ge(v, zero)), f32x4.le(f32x4.add(u, v), one));
    let hit = i32x4.bitmask(v128.and(inside, v128.and(f32x4.gt(t, zero), f32x4.lt(t, f32x4.splat(best)))));
    if (!hit) continue;
    v128.store(scratch, t);
    v128.store(scratch + 16, u);
    v128.store(scratch + 32, v);
    do {
      const c = ctz(hit);
      hit &= hit - 1;
      const here = load<f32>(scratch + 4 * c);
      if (here >= best) continue;
      best = here;
      setHit(
        here,
        load<f32>(scratch + 16 + 4 * c),
        load<f32>(scratch + 32 + 4 * c),
        load<i32>(list + 160 + 4 * c),
        load<i32>(list + 176 + 4 * c),
      );
    } while (hit);
  }
  return true;
}

// inline
function dot(list: usize, row: i32, x: v128, y: v128, z: v128): v128 {
  const r = list + 16 * row;
  return f32x4.add(
    f32x4.add(f32x4.mul(x, v128.load(r)), f32x4.mul(y, v128.load(r + 16))),
    f32x4.mul(z, v128.load(r + 32)),
  );
}
