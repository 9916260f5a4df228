/**
 * Finds what rays hit in trees of four children a node, with packets of four triangles in the leaves, and what light
 * passes on its way. One search is written here; the four that are used are made from it by the compiler.
 * Triangle test: Möller and Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection" (1997); widening of boxes for
 * rounding: Ize, "Robust BVH Ray Traversal" (2013).
 */
import { MOVING_NODE_BYTES, MOVING_PACKET_BYTES, NODE_BYTES, PACKET_BYTES, Part, Ray } from './layout';
import { allSeen, movingNodes, movingPackets, nodes, packets, partOf, stack } from './memory';
import { opacityOf } from './textures';

/** The nearest hit so far: distance, barycentric coordinates, triangle of the mesh (-1 for none), place in the packets. */
export let hitT: f32 = 0;
export let hitU: f32 = 0;
export let hitV: f32 = 0;
export let hitTriangle: i32 = -1;
export let hitPlace: i32 = 0;
/** What is left of the light on its way. */
export let passR: f32 = 1;
export let passG: f32 = 1;
export let passB: f32 = 1;

/** Marks places in the packets of what moves. */
export const MOVING: i32 = 1 << 30;
const WIDER: f32 = 1.0000005;

/** One over a component of a direction; a huge number instead of infinity, which times zero would be no number. */
// inline
export function slope(d: f32): f32 {
  return abs<f32>(d) > 1e-20 ? 1 / d : d < 0 ? -1e20 : 1e20;
}

// inline
function at(packet: usize, row: i32, moving: bool, time: v128): v128 {
  const value = v128.load(packet + 16 * row);
  return moving ? f32x4.add(value, f32x4.mul(time, v128.load(packet + PACKET_BYTES + 16 * row))) : value;
}

// inline
function border(node: usize, row: usize, moving: bool, time: v128, origin: v128, slopes: v128): v128 {
  const value = v128.load(node + row);
  const here = moving ? f32x4.add(value, f32x4.mul(time, v128.load(node + NODE_BYTES + row))) : value;
  return f32x4.mul(f32x4.sub(here, origin), slopes);
}

/**
 * Searches one tree, which must not be empty. For light on its way the order does not matter, and the search ends at
 * the first thing that lets nothing pass, with false.
 */
// inline
function search(
  moving: bool,
  shadow: bool,
  ox: f32,
  oy: f32,
  oz: f32,
  dx: f32,
  dy: f32,
  dz: f32,
  limit: f32,
  kind: i32,
  time: f32,
): bool {
  const ix = slope(dx);
  const iy = slope(dy);
  const iz = slope(dz);
  const IX = f32x4.splat(ix);
  const IY = f32x4.splat(iy);
  const IZ = f32x4.splat(iz);
  const OX = f32x4.splat(ox);
  const OY = f32x4.splat(oy);
  const OZ = f32x4.splat(oz);
  const DX = f32x4.splat(dx);
  const DY = f32x4.splat(dy);
  const DZ = f32x4.splat(dz);
  const T = f32x4.splat(time);
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const wider = f32x4.splat(WIDER);
  // Which side of a box comes first along each axis.
  const nearX: usize = ix < 0 ? 48 : 0;
  const nearY: usize = iy < 0 ? 64 : 16;
  const nearZ: usize = iz < 0 ? 80 : 32;
  const farX: usize = 48 - nearX;
  const farY: usize = 80 - nearY;
  const farZ: usize = 112 - nearZ;
  const root = moving ? movingNodes : nodes;
  const leaves = moving ? movingPackets : packets;
  const nodeBytes: usize = moving ? MOVING_NODE_BYTES : NODE_BYTES;
  const packetBytes: usize = moving ? MOVING_PACKET_BYTES : PACKET_BYTES;
  let best = limit;
  let found = false;
  let top = stack;
  let child: i32 = 0;
  for (;;) {
    if (child >= 0) {
      const node = root + nodeBytes * child;
      const near = f32x4.pmax(
        f32x4.pmax(border(node, nearX, moving, T, OX, IX), border(node, nearY, moving, T, OY, IY)),
        f32x4.pmax(border(node, nearZ, moving, T, OZ, IZ), zero),
      );
      const far = f32x4.pmin(
        f32x4.pmin(border(node, farX, moving, T, OX, IX), border(node, farY, moving, T, OY, IY)),
        f32x4.pmin(border(node, farZ, moving, T, OZ, IZ), f32x4.splat(best)),
      );
      let met = i32x4.bitmask(f32x4.le(near, f32x4.mul(far, wider)));
      if (met) {
        const first = ctz(met);
        met &= met - 1;
        if (!met) {
          child = load<i32>(node + 96 + 4 * first);
          continue;
        }
        // The nearest is entered, the others wait, nearer ones on top. 16 bytes above the stack hold the distances.
        v128.store(stack - 16, near);
        let nearest = load<f32>(stack - 16 + 4 * first);
        let enter = load<i32>(node + 96 + 4 * first);
        const floor = top;
        do {
          const c = ctz(met);
          met &= met - 1;
          const t = load<f32>(stack - 16 + 4 * c);
          const waits = load<i32>(node + 96 + 4 * c);
          if (!shadow) {
            // Chosen without a branch, which nothing could foretell.
            const closer = t < nearest;
            const later = select<f32>(nearest, t, closer);
            const last = select<i32>(enter, waits, closer);
            nearest = select<f32>(t, nearest, closer);
            enter = select<i32>(waits, enter, closer);
            let to = top;
            while (to > floor && load<f32>(to - 4) < later) {
              store<u64>(to, load<u64>(to - 8));
              to -= 8;
            }
            store<i32>(to, last);
            store<f32>(to + 4, later);
          } else store<i32>(top, waits);
          top += 8;
        } while (met);
        child = enter;
        continue;
      }
    } else {
      let packet = leaves + packetBytes * (<usize>~child >> 3);
      for (let n = ~child & 7; n > 0; n--, packet += packetBytes) {
        const e1x = at(packet, 3, moving, T);
        const e1y = at(packet, 4, moving, T);
        const e1z = at(packet, 5, moving, T);
        const e2x = at(packet, 6, moving, T);
        const e2y = at(packet, 7, moving, T);
        const e2z = at(packet, 8, moving, T);
        const px = f32x4.sub(f32x4.mul(DY, e2z), f32x4.mul(DZ, e2y));
        const py = f32x4.sub(f32x4.mul(DZ, e2x), f32x4.mul(DX, e2z));
        const pz = f32x4.sub(f32x4.mul(DX, e2y), f32x4.mul(DY, e2x));
        const det = f32x4.add(f32x4.add(f32x4.mul(e1x, px), f32x4.mul(e1y, py)), f32x4.mul(e1z, pz));
        const inverse = f32x4.div(one, det);
        const tx = f32x4.sub(OX, at(packet, 0, moving, T));
        const ty = f32x4.sub(OY, at(packet, 1, moving, T));
        const tz = f32x4.sub(OZ, at(packet, 2, moving, T));
        const u = f32x4.mul(
          f32x4.add(f32x4.add(f32x4.mul(tx, px), f32x4.mul(ty, py)), f32x4.mul(tz, pz)),
          inverse,
        );
        const qx = f32x4.sub(f32x4.mul(ty, e1z), f32x4.mul(tz, e1y));
        const qy = f32x4.sub(f32x4.mul(tz, e1x), f32x4.mul(tx, e1z));
        const qz = f32x4.sub(f32x4.mul(tx, e1y), f32x4.mul(ty, e1x));
        const v = f32x4.mul(
          f32x4.add(f32x4.add(f32x4.mul(DX, qx), f32x4.mul(DY, qy)), f32x4.mul(DZ, qz)),
          inverse,
        );
        const t = f32x4.mul(
          f32x4.add(f32x4.add(f32x4.mul(e2x, qx), f32x4.mul(e2y, qy)), f32x4.mul(e2z, qz)),
          inverse,
        );
        const inside = v128.and(
          v128.and(f32x4.ge(u, zero), f32x4.ge(v, zero)),
          f32x4.le(f32x4.add(u, v), one),
        );
        const between = v128.and(f32x4.gt(t, zero), f32x4.lt(t, f32x4.splat(best)));
        let hit = i32x4.bitmask(v128.and(inside, between));
        if (!hit) continue;
        const scratch = stack - 64;
        v128.store(scratch, t);
        v128.store(scratch + 16, u);
        v128.store(scratch + 32, v);
        do {
          const c = ctz(hit);
          hit &= hit - 1;
          const triangle = load<i32>(packet + 144 + 4 * c);
          if (shadow) {
            const part = partOf(triangle);
            if (!(load<i32>(part + 4 * Part.visible) & Ray.shadow)) continue;
            const r = load<f32>(part + 4 * Part.tint);
            if (r < 0) {
              const left: f32 =
                1 -
                opacityOf(part, triangle, load<f32>(scratch + 16 + 4 * c), load<f32>(scratch + 32 + 4 * c));
              if (left <= 0) return false;
              passR *= left;
              passG *= left;
              passB *= left;
              continue;
            }
            if (r <= 0) return false;
            passR *= r;
            passG *= load<f32>(part + 4 * Part.tint + 4);
            passB *= load<f32>(part + 4 * Part.tint + 8);
            continue;
          }
          const here = load<f32>(scratch + 4 * c);
          if (here < best && (allSeen || load<i32>(partOf(triangle) + 4 * Part.visible) & kind)) {
            best = hitT = here;
            hitU = load<f32>(scratch + 16 + 4 * c);
            hitV = load<f32>(scratch + 32 + 4 * c);
            hitTriangle = triangle;
            hitPlace = (<i32>(((packet - leaves) / packetBytes) << 2) + c) | (moving ? MOVING : 0);
            found = true;
          }
        } while (hit);
      }
    }
    for (;;) {
      if (top == stack) return shadow ? true : found;
      top -= 8;
      if (shadow || load<f32>(top + 4) < best) break;
    }
    child = load<i32>(top);
  }
  return false;
}

function nearestResting(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, limit: f32, kind: i32): bool {
  return search(false, false, ox, oy, oz, dx, dy, dz, limit, kind, 0);
}
function nearestMoving(
  ox: f32,
  oy: f32,
  oz: f32,
  dx: f32,
  dy: f32,
  dz: f32,
  limit: f32,
  kind: i32,
  time: f32,
): bool {
  return search(true, false, ox, oy, oz, dx, dy, dz, limit, kind, time);
}
function passesResting(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, limit: f32): bool {
  return search(false, true, ox, oy, oz, dx, dy, dz, limit, Ray.shadow, 0);
}
function passesMoving(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, limit: f32, time: f32): bool {
  return search(true, true, ox, oy, oz, dx, dy, dz, limit, Ray.shadow, time);
}

/** Nearest hit nearer than `limit` on something that this kind of ray sees, into the exported numbers. */
export function nearestHit(
  ox: f32,
  oy: f32,
  oz: f32,
  dx: f32,
  dy: f32,
  dz: f32,
  limit: f32,
  kind: i32,
  time: f32,
): bool {
  hitTriangle = -1;
  hitT = limit;
  if (nodes) nearestResting(ox, oy, oz, dx, dy, dz, limit, kind);
  if (movingNodes) nearestMoving(ox, oy, oz, dx, dy, dz, hitT, kind, time);
  return hitTriangle >= 0;
}

/** Takes over a hit that was found without the trees. */
export function setHit(t: f32, u: f32, v: f32, triangle: i32, place: i32): void {
  hitT = t;
  hitU = u;
  hitV = v;
  hitTriangle = triangle;
  hitPlace = place;
}

/** Light that gets from a point to a distance; false, and nothing, if an opaque thing is between. */
export function passes(ox: f32, oy: f32, oz: f32, dx: f32, dy: f32, dz: f32, limit: f32, time: f32): bool {
  passR = passG = passB = 1;
  if (nodes && !passesResting(ox, oy, oz, dx, dy, dz, limit)) return false;
  return !movingNodes || passesMoving(ox, oy, oz, dx, dy, dz, limit, time);
}
