/** From one surface to the next: what a ray meets, what it leaves behind, and where it goes on. */
import {
  Alpha,
  Chain,
  Field,
  Lane,
  Lobe,
  Material,
  Part,
  Ray,
  Role,
  Scatter,
  Scene,
  Source,
  Sun,
  Way,
} from './layout';
import { int, lane, laneInt, number, partOf, parts, put, putInt, sceneInt, trianglePart } from './memory';
import { lengthOf, luminance, OFFSET } from './arithmetic';
import { densityOfSky, skyAt, skyB, skyG, skyR } from './around';
import { addLight } from './film';
import { enter, gx, gy, gz, roughness } from './here';
import { densityOf, emissionAt, glowB, glowG, glowR } from './lights';
import { density, lobe, scatter, toX, toY, toZ, weightB, weightG, weightR } from './materials';
import { listed } from './reach';
import { pointX, take } from './sampler';
import { materialOf, opacityOf } from './textures';
import { hitPlace, hitT, hitTriangle, hitU, hitV, nearestHit } from './tree';

/** Transparent points a ray may pass before it is given up. */
const MOST_PASSES: i32 = 64;
const PASS_PAIR: i32 = 4096;
/** Mirror and glass events a path may have in all, and reflections up to this roughness show recognisable things. */
const MOST_SPECULAR: i32 = 16;
const MIRROR_ROUGHNESS: f32 = 0.3;

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

/** Light from around along a path, into the exported numbers; weighed against sampling it if the path could be sampled. */
function aroundLight(path: i32): f32 {
  const dx = number(Field.directionX, path);
  const dy = number(Field.directionY, path);
  const dz = number(Field.directionZ, path);
  skyAt(dx, dy, dz);
  const density = number(Field.density, path);
  if (density == 0) return 1;
  const other = densityOfSky(dx, dy, dz);
  return other == 0 ? 1 : density / (density + other);
}

/** What a ray that meets nothing sees. */
function escape(path: i32, depth: i32): void {
  const share = aroundLight(path);
  const way = int(Field.sourceWay, path);
  const rough = int(Field.rough, path);
  const wr = number(Field.weightR, path);
  const wg = number(Field.weightG, path);
  const wb = number(Field.weightB, path);
  const r = wr * skyR * share;
  const g = wg * skyG * share;
  const b = wb * skyB * share;
  addLight(path, way, Source.sky, r, g, b, rough);
  if (rough == 0 && depth > 0) {
    const suns: usize = sceneInt(Scene.suns);
    for (let i = 0; i < sceneInt(Scene.sunCount); i++) {
      const sun = suns + 4 * Sun.count * i;
      // The sun's disc as mirrors and glass show it.
      const c =
        number(Field.directionX, path) * load<f32>(sun) +
        number(Field.directionY, path) * load<f32>(sun + 4) +
        number(Field.directionZ, path) * load<f32>(sun + 8);
      if (c < load<f32>(sun + 4 * Sun.cosine)) continue;
      const disc = sun + 4 * Sun.radiance;
      addLight(
        path,
        way,
        Source.first + i,
        wr * load<f32>(disc),
        wg * load<f32>(disc + 4),
        wb * load<f32>(disc + 8),
        rough,
      );
    }
  }
  // This direction was free: it counts in the shadow of the first surface as unshadowed and lit.
  if (depth == 1 && way == Way.diffuseDirect) {
    const sky = luminance(r, g, b);
    put(Field.unshadowed, path, number(Field.unshadowed, path) + sky);
    put(Field.lit, path, number(Field.lit, path) + sky);
  }
}

/** Notes what is seen through glass or in a mirror, in every layer that asks for it. */
function sight(path: i32, part: i32): void {
  const layers = laneInt(Lane.layers);
  const way = int(Field.chain, path);
  const depth = int(Field.chainDepth, path);
  const rough = number(Field.chainRough, path);
  const row: usize = laneInt(Lane.sights) + 8 * layers * path;
  for (let i = 0; i < layers; i++) {
    const layer = lane + 4 * Lane.layerTable + 12 * i;
    if (load<i32>(layer) != way || load<i32>(layer + 4) != depth || rough > load<f32>(layer + 8)) continue;
    store<i32>(row + 8 * i, part);
    const w = luminance(
      number(Field.weightR, path),
      number(Field.weightG, path),
      number(Field.weightB, path),
    );
    store<f32>(row + 8 * i + 4, min<f32>(1, w));
  }
}

/** Lets go of paths that met nothing or have seen all that is asked for; tells how many go on. */
export function arrive(count: i32, depth: i32): i32 {
  const light = laneInt(Lane.light) != 0;
  const shadow = laneInt(Lane.shadow) != 0;
  const deepest = laneInt(Lane.deepest);
  const onlySeen =
    !light && !laneInt(Lane.surface) && !(load<f32>(lane + 4 * Lane.occlusion) > 0) && !deepest;
  let left = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const triangle = int(Field.triangle, path);
    if (triangle < 0) {
      if (light) escape(path, depth);
      continue;
    }
    const part = load<i32>(trianglePart + 4 * triangle);
    const record = parts + 4 * Part.count * part;
    if (depth == 0) {
      const role = load<i32>(record + 4 * Part.role);
      if (role == Role.held) continue;
      putInt(Field.catches, path, role == Role.catcher ? 1 : 0);
      putInt(Field.seen, path, part);
      // Without light there is nothing more to find on a surface through which nothing is seen.
      if (onlySeen) continue;
    } else {
      // The sky's share in the shadow of the first surface: this direction was taken by something.
      if (depth == 1 && shadow && int(Field.sourceWay, path) == Way.diffuseDirect) {
        const share = aroundLight(path);
        const free = luminance(
          skyR * number(Field.weightR, path),
          skyG * number(Field.weightG, path),
          skyB * number(Field.weightB, path),
        );
        put(Field.unshadowed, path, number(Field.unshadowed, path) + share * free);
      }
      const chain = int(Field.chain, path);
      if (chain == Chain.refraction || chain == Chain.reflection) {
        const object = load<i32>(record + 4 * Part.object);
        if (object != int(Field.chainObject, path)) {
          putInt(Field.chainDepth, path, int(Field.chainDepth, path) + 1);
          putInt(Field.chainObject, path, object);
          sight(path, part);
        }
        if (!light && int(Field.chainDepth, path) >= deepest) continue;
      }
    }
    putInt(Field.active, left++, path);
  }
  return left;
}

/** Adds the light that surfaces send out by themselves, and lets go of paths on surfaces without shading. */
export function shine(count: i32, depth: i32): i32 {
  const light = laneInt(Lane.light) != 0;
  let left = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    const triangle = int(Field.triangle, path);
    const part = partOf(triangle);
    const way = depth > 0 ? int(Field.sourceWay, path) : Way.emission;
    const rough = int(Field.rough, path);
    const unlit = load<i32>(materialOf(part) + 4 * Material.unlit) != 0;
    let share: f32 = 0;
    if (unlit) {
      glowOf(path);
      share = 1;
    } else if (emissionAt(part, triangle, number(Field.u, path), number(Field.v, path))) {
      share = 1;
      const density = number(Field.density, path);
      if (density > 0) {
        const t = number(Field.t, path);
        const cosine = abs<f32>(
          number(Field.flatX, path) * number(Field.directionX, path) +
            number(Field.flatY, path) * number(Field.directionY, path) +
            number(Field.flatZ, path) * number(Field.directionZ, path),
        );
        share = density / (density + (densityOf(triangle) * t * t) / max<f32>(1e-6, cosine));
      }
      ownR = glowR;
      ownG = glowG;
      ownB = glowB;
    }
    if (light && share > 0)
      addLight(
        path,
        way,
        Source.shining,
        number(Field.weightR, path) * ownR * share,
        number(Field.weightG, path) * ownG * share,
        number(Field.weightB, path) * ownB * share,
        rough,
      );
    if (!unlit) putInt(Field.active, left++, path);
  }
  return left;
}
let ownR: f32 = 0;
let ownG: f32 = 0;
let ownB: f32 = 0;

function glowOf(path: i32): void {
  ownR = number(Field.red, path);
  ownG = number(Field.green, path);
  ownB = number(Field.blue, path);
}

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
  putInt(
    Field.chain,
    path,
    lobe == Lobe.through ? Chain.refraction : lobe == Lobe.reflect ? Chain.reflection : Chain.over,
  );
  put(Field.chainRough, path, roughness);
  putInt(Field.chainObject, path, load<i32>(partOf(int(Field.triangle, path)) + 4 * Part.object));
}

// inline
function goOnChain(path: i32): void {
  putInt(Field.sourceWay, path, int(Field.way, path));
  const chain = int(Field.chain, path);
  if (chain == Chain.over) return;
  const goesOn = lobe != Lobe.diffuse && (chain == Chain.reflection || lobe == Lobe.through);
  if (!goesOn) putInt(Field.chain, path, Chain.over);
  else if (roughness > number(Field.chainRough, path)) put(Field.chainRough, path, roughness);
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
    else goOnChain(path);
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
