/**
 * What the rays of a block of pixels, and of one pixel in it, can reach at all, for a camera that is a point at rest. A
 * pixel is looked at by many samples, and few triangles are within reach of all of them together: each sample then tests
 * those few instead of the tree, or none, if one triangle fills the whole pixel and nothing is before it.
 */
import {
  Alpha,
  Field,
  Lane,
  Material,
  MOVING_NODE_BYTES,
  NODE_BYTES,
  PACKET_BYTES,
  Part,
  Ray,
  Scene,
} from './layout';
import {
  int,
  lane,
  laneInt,
  laneNumber,
  movingNodes,
  nodes,
  number,
  packets,
  partOf,
  sceneInt,
  sceneNumber,
  stack,
  trianglePart,
} from './memory';
import { materialOf } from './textures';
import { setHit } from './tree';

/** Most triangles that are tested one by one, packets of a block, and boxes of moving things in it. */
const MOST_LISTED: i32 = 64;
const MOST_PACKETS: i32 = 1024;
const MOST_BOXES: i32 = 128;
/** Edge of a block, in pixels. */
const BLOCK_BITS: i32 = 3;
/** Pixels by which beams are wider than the filter, and the margin of what is compared: for the rounding of 32 bits. */
const WIDER: f64 = 0.02;
const MARGIN: f64 = 1e-5;

/** What all samples of a pixel are sure to see: a part, nothing, or it is not known. */
export const NOTHING: i32 = -1;
export const UNSURE: i32 = -2;

/** Memory of the thread: the block's packets and boxes, the triangles that were found, and the list in packets. */
const BOXES_AT: usize = 4 * MOST_PACKETS;
const FOUND_AT: usize = BOXES_AT + 24 * MOST_BOXES;
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
let packetCount: i32 = 0;
let boxCount: i32 = 0;
let pixelX: i32 = -1;
let pixelY: i32 = -1;
let pixelListed: bool = false;
let pixelSure: i32 = UNSURE;
let listCount: i32 = 0;
let foundCount: i32 = 0;
let at: usize = 0;

/** Forgets what was found, before another scene or picture. */
export function forgetReach(): void {
  blockX = blockY = pixelX = pixelY = -1;
  at = laneInt(Lane.reach);
}

/** Normals of the beam's four planes through the camera's point, and directions of its corners. */
let p0x: f32 = 0;
let p0y: f32 = 0;
let p0z: f32 = 0;
let p1x: f32 = 0;
let p1y: f32 = 0;
let p1z: f32 = 0;
let p2x: f32 = 0;
let p2y: f32 = 0;
let p2z: f32 = 0;
let p3x: f32 = 0;
let p3y: f32 = 0;
let p3z: f32 = 0;
let left: f64 = 0;
let right: f64 = 0;
let top: f64 = 0;
let bottom: f64 = 0;

// inline
function m(k: i32): f64 {
  return load<f64>(<usize>sceneInt(Scene.camera) + 8 * k);
}

/** The planes around the rays of an area, a filter's width further out. */
function setBeam(x0: i32, y0: i32, x1: i32, y1: i32): void {
  // Sample positions start at the middle of a pixel.
  const out = <f64>laneNumber(Lane.filterRadius) + WIDER - 0.5;
  const width = <f64>laneInt(Lane.width);
  const height = <f64>laneInt(Lane.height);
  const wide = load<f64>(lane + 4 * Lane.wide);
  const tall = load<f64>(lane + 4 * Lane.tall);
  left = (((<f64>x0 - out) / width) * 2 - 1) * wide;
  right = (((<f64>x1 + out) / width) * 2 - 1) * wide;
  top = (1 - ((<f64>y0 - out) / height) * 2) * tall;
  bottom = (1 - ((<f64>y1 + out) / height) * 2) * tall;
  const ax = m(1) * m(6) - m(2) * m(5);
  const ay = m(2) * m(4) - m(0) * m(6);
  const az = m(0) * m(5) - m(1) * m(4);
  const bx = m(5) * m(10) - m(6) * m(9);
  const by = m(6) * m(8) - m(4) * m(10);
  const bz = m(4) * m(9) - m(5) * m(8);
  const cx = m(9) * m(2) - m(10) * m(1);
  const cy = m(10) * m(0) - m(8) * m(2);
  const cz = m(8) * m(1) - m(9) * m(0);
  const side: f64 = ax * m(8) + ay * m(9) + az * m(10) < 0 ? -1 : 1;
  p0x = <f32>(side * (left * ax + bx));
  p0y = <f32>(side * (left * ay + by));
  p0z = <f32>(side * (left * az + bz));
  p1x = <f32>(-side * (right * ax + bx));
  p1y = <f32>(-side * (right * ay + by));
  p1z = <f32>(-side * (right * az + bz));
  p2x = <f32>(side * (bottom * ax + cx));
  p2y = <f32>(side * (bottom * ay + cy));
  p2z = <f32>(side * (bottom * az + cz));
  p3x = <f32>(-side * (top * ax + cx));
  p3y = <f32>(-side * (top * ay + cy));
  p3z = <f32>(-side * (top * az + cz));
}

/** Which of a node's four boxes lie wholly outside one plane, one bit each; `stride` parts lows and highs of the axes. */
// inline
function beyond(node: usize, moving: bool, x: f32, y: f32, z: f32): v128 {
  // The corner that lies farthest along the plane's normal.
  const far = f32x4.add(
    f32x4.add(
      f32x4.mul(
        f32x4.splat(x),
        f32x4.sub(corner(node, x > 0 ? 48 : 0, x > 0, moving), f32x4.splat(<f32>m(12))),
      ),
      f32x4.mul(
        f32x4.splat(y),
        f32x4.sub(corner(node, y > 0 ? 64 : 16, y > 0, moving), f32x4.splat(<f32>m(13))),
      ),
    ),
    f32x4.mul(
      f32x4.splat(z),
      f32x4.sub(corner(node, z > 0 ? 80 : 32, z > 0, moving), f32x4.splat(<f32>m(14))),
    ),
  );
  return f32x4.lt(far, f32x4.splat(0));
}
// inline
function corner(node: usize, row: usize, high: bool, moving: bool): v128 {
  const value = v128.load(node + row);
  if (!moving) return value;
  const then = f32x4.add(value, v128.load(node + NODE_BYTES + row));
  return high ? f32x4.max(value, then) : f32x4.min(value, then);
}
// inline
function touched(node: usize, moving: bool): i32 {
  const out = v128.or(
    v128.or(beyond(node, moving, p0x, p0y, p0z), beyond(node, moving, p1x, p1y, p1z)),
    v128.or(beyond(node, moving, p2x, p2y, p2z), beyond(node, moving, p3x, p3y, p3z)),
  );
  // Places without a child hold a box that is turned inside out.
  const empty = f32x4.gt(v128.load(node), v128.load(node + 48));
  return i32x4.bitmask(v128.or(out, empty)) ^ 15;
}

/** Gathers the packets and moving boxes in the beam; false if they are too many. */
// inline
function gather(moving: bool): bool {
  let top: usize = stack;
  store<i32>(top, 0);
  top += 4;
  while (top > stack) {
    top -= 4;
    const node = (moving ? movingNodes : nodes) + (moving ? MOVING_NODE_BYTES : NODE_BYTES) * load<i32>(top);
    let met = touched(node, moving);
    while (met) {
      const c = ctz(met);
      met &= met - 1;
      const child = load<i32>(node + 96 + 4 * c);
      if (child >= 0) {
        store<i32>(top, child);
        top += 4;
      } else if (moving) {
        if (boxCount == MOST_BOXES) return false;
        const box = at + BOXES_AT + 24 * boxCount++;
        for (let axis: usize = 0; axis < 3; axis++) {
          const low = load<f32>(node + 16 * axis + 4 * c);
          const high = load<f32>(node + 48 + 16 * axis + 4 * c);
          store<f32>(box + 4 * axis, min<f32>(low, low + load<f32>(node + NODE_BYTES + 16 * axis + 4 * c)));
          store<f32>(
            box + 12 + 4 * axis,
            max<f32>(high, high + load<f32>(node + NODE_BYTES + 48 + 16 * axis + 4 * c)),
          );
        }
      } else {
        const first = ~child >> 3;
        for (let n = 0; n < (~child & 7); n++) {
          if (packetCount == MOST_PACKETS) return false;
          store<i32>(at + 4 * packetCount++, first + n);
        }
      }
    }
  }
  return true;
}

// inline
function boxBeyond(box: usize, x: f32, y: f32, z: f32): bool {
  return (
    x * (load<f32>(box + (x > 0 ? 12 : 0)) - <f32>m(12)) +
      y * (load<f32>(box + (y > 0 ? 16 : 4)) - <f32>m(13)) +
      z * (load<f32>(box + (z > 0 ? 20 : 8)) - <f32>m(14)) <
    0
  );
}
/** True if something that moves may be seen in the pixel whose beam is set. */
function movesInPixel(): bool {
  for (let i = 0; i < boxCount; i++) {
    const box = at + BOXES_AT + 24 * i;
    if (
      !boxBeyond(box, p0x, p0y, p0z) &&
      !boxBeyond(box, p1x, p1y, p1z) &&
      !boxBeyond(box, p2x, p2y, p2z) &&
      !boxBeyond(box, p3x, p3y, p3z)
    )
      return true;
  }
  return false;
}

/** Which of a packet's triangles lie wholly outside one of the beam's planes. */
// inline
function trianglesBeyond(packet: usize, x: f32, y: f32, z: f32): v128 {
  const X = f32x4.splat(x);
  const Y = f32x4.splat(y);
  const Z = f32x4.splat(z);
  const a = f32x4.add(
    f32x4.add(
      f32x4.mul(X, f32x4.sub(v128.load(packet), f32x4.splat(<f32>m(12)))),
      f32x4.mul(Y, f32x4.sub(v128.load(packet + 16), f32x4.splat(<f32>m(13)))),
    ),
    f32x4.mul(Z, f32x4.sub(v128.load(packet + 32), f32x4.splat(<f32>m(14)))),
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

/** Lists the triangles in the pixel; false if there are too many, or such as cannot be listed. */
function find(): bool {
  foundCount = 0;
  for (let i = 0; i < packetCount; i++) {
    const number = load<i32>(at + 4 * i);
    const packet = packets + PACKET_BYTES * number;
    const out = v128.or(
      v128.or(trianglesBeyond(packet, p0x, p0y, p0z), trianglesBeyond(packet, p1x, p1y, p1z)),
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
 * Greatest depth of a found triangle if it fills the whole pixel, infinity if it does not, -1 if it is not in it: the
 * pixel's corners then all lie beyond one of its edges, or before it.
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
    // Seen edge-on from within the pixel.
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
    // One over the depth changes evenly over the pixel: the corners hold its extremes.
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
  pixelSure = count == 0 ? NOTHING : UNSURE;
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
  if (count > 0 && same) pixelSure = part;
}

function enterPixel(x: i32, y: i32): void {
  pixelX = x;
  pixelY = y;
  pixelListed = false;
  pixelSure = UNSURE;
  if (sceneInt(Scene.cameraMoves) || sceneInt(Scene.cameraParallel) || sceneNumber(Scene.lensRadius) > 0)
    return;
  if (x >> BLOCK_BITS != blockX || y >> BLOCK_BITS != blockY) {
    blockX = x >> BLOCK_BITS;
    blockY = y >> BLOCK_BITS;
    packetCount = boxCount = 0;
    setBeam(
      blockX << BLOCK_BITS,
      blockY << BLOCK_BITS,
      (blockX + 1) << BLOCK_BITS,
      (blockY + 1) << BLOCK_BITS,
    );
    blockKnown = (!nodes || gather(false)) && (!movingNodes || gather(true));
  }
  if (!blockKnown) return;
  setBeam(x, y, x + 1, y + 1);
  if (movesInPixel() || !find()) return;
  order();
  pixelListed = true;
}

/** What all samples of a pixel are sure to see. */
export function surely(x: i32, y: i32): i32 {
  if (x != pixelX || y != pixelY) enterPixel(x, y);
  return pixelSure;
}

/** Finds what a path from the camera hits first by its pixel's list; false if there is no list. */
export function listed(path: i32): bool {
  const x = int(Field.x, path);
  const y = int(Field.y, path);
  if (x != pixelX || y != pixelY) enterPixel(x, y);
  if (!pixelListed) return false;
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
