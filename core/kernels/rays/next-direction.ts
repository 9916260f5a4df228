/** Where paths go on from their surfaces. */
import { Chain, Field, Lane, Lobe, Material, Part, Ray, Scatter, Way } from './layout';
import { int, laneInt, number, partOf, put, putInt } from './memory';
import { lengthOf, OFFSET } from './arithmetic';
import { enter, gx, gy, gz, roughness } from './here';
import { density, lobe, scatter, toX, toY, toZ, weightB, weightG, weightR } from './materials';
import { pointX, take } from './sampler';
import { materialOf } from './textures';
import { beginChain, goOnChain } from './sights';

/** Mirror and glass events a path may have in all, and reflections up to this roughness show recognisable things. */
const MOST_SPECULAR: i32 = 16;
const MIRROR_ROUGHNESS: f32 = 0.3;

/** Chooses one of the three ways of scattering for each path, by their shares. */
export function choose(count: i32, pair: i32): void {
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const metalness = number(Field.metalness, path);
    const material = materialOf(partOf(int(Field.triangle, path)));
    const see: f32 = (1 - metalness) * load<f32>(material + 4 * Material.transmission);
    let kind: i32;
    if (metalness >= 1) kind = Scatter.metal;
    else if (metalness <= 0 && see <= 0) kind = Scatter.opaque;
    else if (see >= 1) kind = Scatter.glass;
    else {
      take(path, pair);
      kind = pointX < metalness ? Scatter.metal : pointX < metalness + see ? Scatter.glass : Scatter.opaque;
    }
    putInt(Field.scatter, path, kind);
  }
}

/** The way of the light that a path brings after its first surface, and of a source that it meets next. */
// inline
function setWay(path: i32): void {
  const way =
    lobe == Lobe.through
      ? Way.refraction
      : lobe == Lobe.diffuse
        ? Way.diffuseIndirect
        : roughness <= MIRROR_ROUGHNESS
          ? Way.reflection
          : Way.specularIndirect;
  putInt(Field.way, path, way);
  // A source met by the first bounce is direct light, except in what shows recognisable things.
  putInt(
    Field.sourceWay,
    path,
    way == Way.diffuseIndirect ? Way.diffuseDirect : way == Way.specularIndirect ? Way.specularDirect : way,
  );
  beginChain(path);
}

/**
 * Lets each path choose its next direction, by the pairs of random numbers that were drawn for it; tells how many go
 * on.
 */
export function goOn(count: i32, depth: i32, roulette: i32): i32 {
  const light = laneInt(Lane.light) != 0;
  const bounces = laneInt(Lane.bounces);
  const deepest = laneInt(Lane.deepest);
  let left = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const kind = int(Field.scatter, path);
    if (kind != Scatter.glass) {
      const rough = int(Field.rough, path) + 1;
      putInt(Field.rough, path, rough);
      if (rough > bounces + 1) continue;
    } else {
      const mirrored = int(Field.mirrored, path) + 1;
      putInt(Field.mirrored, path, mirrored);
      if (mirrored > MOST_SPECULAR) continue;
    }
    enter(path);
    if (!scatter(kind, number(Field.randomX, k), number(Field.secondX, k), number(Field.secondY, k)))
      continue;
    const through = lobe == Lobe.through;
    // A rough reflection below the true surface would leak light through thin things.
    if (!through && toX * gx + toY * gy + toZ * gz <= 0) continue;
    if (depth == 0) setWay(path);
    else {
      putInt(Field.sourceWay, path, int(Field.way, path));
      goOnChain(path);
    }
    if (!light && (int(Field.chain, path) == Chain.over || deepest == 0)) continue;
    let r = number(Field.weightR, path) * weightR;
    let g = number(Field.weightG, path) * weightG;
    let b = number(Field.weightB, path) * weightB;
    const strongest = max<f32>(r, max<f32>(g, b));
    if (!(strongest > 0)) continue;
    if (depth > 2 && strongest < 0.5) {
      take(path, roulette);
      if (pointX >= strongest / 0.5) continue;
      const up: f32 = 0.5 / strongest;
      r *= up;
      g *= up;
      b *= up;
    }
    put(Field.weightR, path, r);
    put(Field.weightG, path, g);
    put(Field.weightB, path, b);
    put(Field.density, path, density);
    putInt(
      Field.mirror,
      path,
      lobe == Lobe.reflect ? load<i32>(partOf(int(Field.triangle, path)) + 4 * Part.object) : -1,
    );
    putInt(Field.kind, path, through ? Ray.refraction : lobe == Lobe.reflect ? Ray.reflection : Ray.bounce);
    const offset: f32 = through ? -OFFSET : OFFSET;
    put(Field.originX, path, number(Field.pointX, path) + gx * offset);
    put(Field.originY, path, number(Field.pointY, path) + gy * offset);
    put(Field.originZ, path, number(Field.pointZ, path) + gz * offset);
    const scale: f32 = 1 / lengthOf(toX, toY, toZ);
    put(Field.directionX, path, toX * scale);
    put(Field.directionY, path, toY * scale);
    put(Field.directionZ, path, toZ * scale);
    putInt(Field.active, left++, path);
  }
  return left;
}
