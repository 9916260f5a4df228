/** What the beam of a block of pixels meets: packets of triangles at rest, and boxes of things that move. */
import { Lane, MOVING_NODE_BYTES, NODE_BYTES } from './layout';
import { laneInt, movingNodes, nodes, stack } from './memory';
import { eyeX, eyeY, eyeZ, p0x, p0y, p0z, p1x, p1y, p1z, p2x, p2y, p2z, p3x, p3y, p3z } from './beam';

/** Most packets and boxes of a block. */
const MOST_PACKETS: i32 = 1024;
const MOST_BOXES: i32 = 128;
const BOXES_AT: usize = 4 * MOST_PACKETS;
/** Memory of the thread that a block takes. */
export const BLOCK_BYTES: usize = BOXES_AT + 24 * MOST_BOXES;

/** Packets of the block, whose numbers stand from the beginning of its memory. */
export let packetCount: i32 = 0;
let boxCount: i32 = 0;

/** Gathers what the beam that is set meets, from the trees; false if it is too much. */
export function gatherBlock(): bool {
  packetCount = boxCount = 0;
  return (!nodes || gather(false)) && (!movingNodes || gather(true));
}

/** Which of a node's four boxes lie wholly outside one plane, one bit each. */
// inline
function beyond(node: usize, moving: bool, x: f32, y: f32, z: f32): v128 {
  // The corner that lies farthest along the plane's normal.
  const far = f32x4.add(
    f32x4.add(
      f32x4.mul(f32x4.splat(x), f32x4.sub(corner(node, x > 0 ? 48 : 0, x > 0, moving), f32x4.splat(eyeX))),
      f32x4.mul(f32x4.splat(y), f32x4.sub(corner(node, y > 0 ? 64 : 16, y > 0, moving), f32x4.splat(eyeY))),
    ),
    f32x4.mul(f32x4.splat(z), f32x4.sub(corner(node, z > 0 ? 80 : 32, z > 0, moving), f32x4.splat(eyeZ))),
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
        const box = <usize>laneInt(Lane.reach) + BOXES_AT + 24 * boxCount++;
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
          store<i32>(<usize>laneInt(Lane.reach) + 4 * packetCount++, first + n);
        }
      }
    }
  }
  return true;
}

// inline
function boxBeyond(box: usize, x: f32, y: f32, z: f32): bool {
  return (
    x * (load<f32>(box + (x > 0 ? 12 : 0)) - eyeX) +
      y * (load<f32>(box + (y > 0 ? 16 : 4)) - eyeY) +
      z * (load<f32>(box + (z > 0 ? 20 : 8)) - eyeZ) <
    0
  );
}
/** True if something of the block that moves may be met by the beam that is set now. */
export function movesInBeam(): bool {
  for (let i = 0; i < boxCount; i++) {
    const box = <usize>laneInt(Lane.reach) + BOXES_AT + 24 * i;
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
