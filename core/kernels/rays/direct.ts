/** Light from its sources straight to surfaces: rays towards it are gathered, followed, and what arrives is added. */
import { Field, Scatter, Scene, Source, Sun, Way } from './layout';
import { int, number, put, putInt, sceneInt } from './memory';
import { cosine, luminance, OFFSET, outX, outY, outZ, setFrame, sine, toWorld, turn } from './arithmetic';
import { sampleSky, skyB, skyDensity, skyG, skyR, skyX, skyY, skyZ } from './around';
import { addLight } from './film';
import { enter, gx, gy, gz } from './here';
import {
  lightB,
  lightDensity,
  lightDistance,
  lightG,
  lightR,
  lightSource,
  lightX,
  lightY,
  lightZ,
  sampleLight,
} from './lights';
import {
  diffuseB,
  diffuseDensity,
  diffuseG,
  diffuseR,
  evaluate,
  reflectedB,
  reflectedDensity,
  reflectedG,
  reflectedR,
} from './materials';
import { passB, passes, passG, passR } from './tree';

const FAR: f32 = f32.MAX_VALUE;

/** Puts a ray towards light at the end of the list if the surface that was entered sends any of it on. */
function gather(
  at: i32,
  path: i32,
  source: i32,
  x: f32,
  y: f32,
  z: f32,
  distance: f32,
  r: f32,
  g: f32,
  b: f32,
  density: f32,
): i32 {
  if (x * gx + y * gy + z * gz <= 0) return at;
  evaluate(int(Field.scatter, path), x, y, z);
  if (!(diffuseR + diffuseG + diffuseB + reflectedR + reflectedG + reflectedB > 0)) return at;
  // Balance heuristic against the paths that find the light by themselves (Veach 1997), for each lobe.
  const d: f32 = density > 0 ? density / (density + diffuseDensity) : 1;
  const s: f32 = density > 0 ? density / (density + reflectedDensity) : 1;
  r *= number(Field.weightR, path);
  g *= number(Field.weightG, path);
  b *= number(Field.weightB, path);
  putInt(Field.shadowPath, at, path);
  putInt(Field.shadowSource, at, source);
  put(Field.shadowX, at, x);
  put(Field.shadowY, at, y);
  put(Field.shadowZ, at, z);
  put(Field.shadowReach, at, distance < FAR ? distance - 2 * OFFSET : FAR);
  put(Field.diffuseR, at, r * diffuseR * d);
  put(Field.diffuseG, at, g * diffuseG * d);
  put(Field.diffuseB, at, b * diffuseB * d);
  put(Field.reflectedR, at, r * reflectedR * s);
  put(Field.reflectedG, at, g * reflectedG * s);
  put(Field.reflectedB, at, b * reflectedB * s);
  return at + 1;
}

/** Rays from the active paths' surfaces to points of a sun's disc; tells how many. */
export function towardsSun(count: i32, number_: i32): i32 {
  const sun: usize = sceneInt(Scene.suns) + 4 * Sun.count * number_;
  const x = load<f32>(sun);
  const y = load<f32>(sun + 4);
  const z = load<f32>(sun + 8);
  const r = load<f32>(sun + 4 * Sun.irradiance);
  const g = load<f32>(sun + 4 * Sun.irradiance + 4);
  const b = load<f32>(sun + 4 * Sun.irradiance + 8);
  const edge: f32 = 1 - load<f32>(sun + 4 * Sun.cosine);
  setFrame(x, y, z);
  let rays = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    if (int(Field.scatter, path) == Scatter.glass) continue;
    enter(path);
    const down: f32 = number(Field.randomX, k) * edge;
    const aside = sqrt<f32>(max<f32>(0, down * (2 - down)));
    turn(number(Field.randomY, k));
    toWorld(aside * cosine, aside * sine, 1 - down);
    rays = gather(rays, path, Source.first + number_, outX, outY, outZ, FAR, r, g, b, 0);
  }
  return rays;
}

/** Rays to a lamp or a point of a shining surface, one for each path. */
export function towardsLights(count: i32): i32 {
  let rays = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    if (int(Field.scatter, path) == Scatter.glass) continue;
    if (!sampleLight(path, number(Field.randomX, k), number(Field.secondX, k), number(Field.secondY, k)))
      continue;
    enter(path);
    rays = gather(
      rays,
      path,
      lightSource,
      lightX,
      lightY,
      lightZ,
      lightDistance,
      lightR,
      lightG,
      lightB,
      lightDensity,
    );
  }
  return rays;
}

/** Rays to where a picture all around is bright. */
export function towardsSky(count: i32): i32 {
  let rays = 0;
  for (let k = 0; k < count; k++) {
    const path = int(Field.active, k);
    if (int(Field.scatter, path) == Scatter.glass) continue;
    sampleSky(number(Field.randomX, k), number(Field.randomY, k));
    enter(path);
    rays = gather(rays, path, Source.sky, skyX, skyY, skyZ, FAR, skyR, skyG, skyB, skyDensity);
  }
  return rays;
}

/** Finds what passes along the rays towards light. */
export function passShadows(rays: i32): void {
  for (let i = 0; i < rays; i++) {
    const path = int(Field.shadowPath, i);
    const free = passes(
      number(Field.pointX, path) + number(Field.flatX, path) * OFFSET,
      number(Field.pointY, path) + number(Field.flatY, path) * OFFSET,
      number(Field.pointZ, path) + number(Field.flatZ, path) * OFFSET,
      number(Field.shadowX, i),
      number(Field.shadowY, i),
      number(Field.shadowZ, i),
      number(Field.shadowReach, i),
      number(Field.time, path),
    );
    put(Field.passR, i, free ? passR : 0);
    put(Field.passG, i, free ? passG : 0);
    put(Field.passB, i, free ? passB : 0);
  }
}

/** Adds what arrives. */
export function receive(rays: i32, depth: i32): void {
  for (let i = 0; i < rays; i++) {
    const path = int(Field.shadowPath, i);
    const source = int(Field.shadowSource, i);
    const r = number(Field.passR, i);
    const g = number(Field.passG, i);
    const b = number(Field.passB, i);
    const dr = number(Field.diffuseR, i);
    const dg = number(Field.diffuseG, i);
    const db = number(Field.diffuseB, i);
    if (depth == 0) {
      put(Field.unshadowed, path, number(Field.unshadowed, path) + luminance(dr, dg, db));
      put(Field.lit, path, number(Field.lit, path) + luminance(dr * r, dg * g, db * b));
    }
    if (r + g + b <= 0) continue;
    const sr = r * number(Field.reflectedR, i);
    const sg = g * number(Field.reflectedG, i);
    const sb = b * number(Field.reflectedB, i);
    const rough = int(Field.rough, path);
    if (depth == 0) {
      addLight(path, Way.diffuseDirect, source, r * dr, g * dg, b * db, rough);
      addLight(path, Way.specularDirect, source, sr, sg, sb, rough);
    } else addLight(path, int(Field.way, path), source, r * dr + sr, g * dg + sg, b * db + sb, rough);
  }
}
