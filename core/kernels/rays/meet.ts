/** Finds what the rays of a wave meet. */
import { Alpha, Field, Material, Part, Scene } from './layout';
import { int, number, partOf, put, putInt, sceneInt } from './memory';
import { OFFSET } from './arithmetic';
import { listed } from './reach';
import { pointX, take } from './sampler';
import { materialOf, opacityOf } from './textures';
import { hitPlace, hitT, hitTriangle, hitU, hitV, nearestHit } from './tree';

/** Transparent points a ray may pass before it is given up. */
const MOST_PASSES: i32 = 64;
const PASS_PAIR: i32 = 4096;

/** True if an object is not to be seen in a mirror. */
// inline
function hiddenIn(mirror: i32, object: i32): bool {
  if (mirror < 0) return false;
  const doors: usize = sceneInt(Scene.doors);
  if (!doors) return false;
  const row: usize = load<i32>(doors + 4 * mirror);
  return row != 0 && load<u8>(row + object) != 0;
}

/** Finds the next thing that a path's ray does not pass: holes in cut-outs and what a mirror must not show. */
function follow(path: i32, depth: i32): void {
  const kind = int(Field.kind, path);
  const mirror = int(Field.mirror, path);
  const ox = number(Field.originX, path);
  const oy = number(Field.originY, path);
  const oz = number(Field.originZ, path);
  const dx = number(Field.directionX, path);
  const dy = number(Field.directionY, path);
  const dz = number(Field.directionZ, path);
  const time = number(Field.time, path);
  putInt(Field.triangle, path, -1);
  let passed: f32 = 0;
  for (let pass = 0; pass < MOST_PASSES; pass++) {
    if (
      !nearestHit(ox + dx * passed, oy + dy * passed, oz + dz * passed, dx, dy, dz, f32.MAX_VALUE, kind, time)
    )
      return;
    const part = partOf(hitTriangle);
    let stops = !hiddenIn(mirror, load<i32>(part + 4 * Part.object));
    if (stops && load<i32>(materialOf(part) + 4 * Material.alphaMode) != Alpha.opaque) {
      const opacity = opacityOf(part, hitTriangle, hitU, hitV);
      if (opacity < 1) {
        take(path, PASS_PAIR + 64 * depth + pass);
        stops = pointX < opacity;
      }
    }
    if (stops) {
      keepHit(path, passed);
      return;
    }
    passed += hitT + OFFSET;
  }
}

// inline
function keepHit(path: i32, passed: f32): void {
  put(Field.t, path, hitT + passed);
  put(Field.u, path, hitU);
  put(Field.v, path, hitV);
  putInt(Field.triangle, path, hitTriangle);
  putInt(Field.place, path, hitPlace);
}

/** Finds what the rays of the first `count` active paths meet. */
export function meet(count: i32, depth: i32): void {
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    if (depth > 0 || !listed(path)) follow(path, depth);
    else if (hitTriangle < 0) putInt(Field.triangle, path, -1);
    else keepHit(path, 0);
  }
}
