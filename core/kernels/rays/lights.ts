/** Lamps and surfaces that shine; one of them is chosen by power for each sample. */
import { Field, Lamp, Material, Part, Scene, Shining, Source } from './layout';
import { number, partOf, sceneInt } from './memory';
import { lengthOf, OFFSET } from './arithmetic';
import { choose } from './around';
import { materialOf, texelB, texelG, texelR, textureAt } from './textures';

/** The last choice: direction, distance, light divided by its density, density over solid angle, source. */
export let lightX: f32 = 0;
export let lightY: f32 = 0;
export let lightZ: f32 = 0;
export let lightDistance: f32 = 0;
export let lightR: f32 = 0;
export let lightG: f32 = 0;
export let lightB: f32 = 0;
export let lightDensity: f32 = 0;
export let lightSource: i32 = 0;

/** What a surface sends out by itself. */
export let glowR: f32 = 0;
export let glowG: f32 = 0;
export let glowB: f32 = 0;

/** Light that a part's triangle sends out at a point, into `glow`; false for none. */
export function emissionAt(part: usize, triangle: i32, u: f32, v: f32): bool {
  const material = materialOf(part);
  glowR = load<f32>(material + 4 * Material.emission);
  glowG = load<f32>(material + 4 * Material.emission + 4);
  glowB = load<f32>(material + 4 * Material.emission + 8);
  if (glowR + glowG + glowB <= 0) return false;
  if (textureAt(material, Material.emissionMap, triangle, u, v, true)) {
    glowR *= texelR;
    glowG *= texelG;
    glowB *= texelB;
  }
  return true;
}

/** Density by area with which a triangle of the mesh is chosen as a light. */
export function densityOf(triangle: i32): f32 {
  const densities: usize = sceneInt(Scene.densities);
  return densities ? load<f32>(densities + 4 * triangle) : 0;
}

/** Chooses a light as seen from a path's surface; false if it gives nothing there. */
export function sampleLight(path: i32, choice: f32, u1: f32, u2: f32): bool {
  const powers: usize = sceneInt(Scene.powers);
  const count = sceneInt(Scene.powerCount);
  const total = load<f64>(powers + 8 * count);
  const i = choose(powers, count, <f64>choice * total);
  const probability = <f32>((load<f64>(powers + 8 * i + 8) - load<f64>(powers + 8 * i)) / total);
  const lamps = sceneInt(Scene.lampCount);
  // Seen from where the ray will begin: from the surface itself, it would miss the point at a grazing angle.
  const px = number(Field.pointX, path) + number(Field.flatX, path) * OFFSET;
  const py = number(Field.pointY, path) + number(Field.flatY, path) * OFFSET;
  const pz = number(Field.pointZ, path) + number(Field.flatZ, path) * OFFSET;
  if (i < lamps) {
    const lamp: usize = sceneInt(Scene.lamps) + 4 * Lamp.count * i;
    if (!towards(load<f32>(lamp) - px, load<f32>(lamp + 4) - py, load<f32>(lamp + 8) - pz)) return false;
    let fade: f32 = 1 / (lightDistance * lightDistance * probability);
    const outer = load<f32>(lamp + 4 * Lamp.outerCosine);
    if (outer > -1) {
      const d = lamp + 4 * Lamp.direction;
      const c: f32 = -(lightX * load<f32>(d) + lightY * load<f32>(d + 4) + lightZ * load<f32>(d + 8));
      // The falloff that KHR_lights_punctual recommends.
      const s: f32 = max<f32>(
        0,
        min<f32>(1, (c - outer) / max<f32>(1e-4, load<f32>(lamp + 4 * Lamp.innerCosine) - outer)),
      );
      fade *= s * s;
    }
    lightR = load<f32>(lamp + 4 * Lamp.intensity) * fade;
    lightG = load<f32>(lamp + 4 * Lamp.intensity + 4) * fade;
    lightB = load<f32>(lamp + 4 * Lamp.intensity + 8) * fade;
    lightDensity = 0;
    lightSource = Source.first + sceneInt(Scene.sunCount) + i;
    return fade > 0;
  }
  return shining(
    sceneInt(Scene.shining) + 4 * Shining.count * (i - lamps),
    number(Field.time, path),
    px,
    py,
    pz,
    u1,
    u2,
  );
}

// inline
function towards(dx: f32, dy: f32, dz: f32): bool {
  lightDistance = lengthOf(dx, dy, dz);
  if (!(lightDistance > 0)) return false;
  lightX = dx / lightDistance;
  lightY = dy / lightDistance;
  lightZ = dz / lightDistance;
  return true;
}

// inline
function now(shining: usize, k: i32, time: f32): f32 {
  return load<f32>(shining + 4 * k) + time * load<f32>(shining + 4 * (Shining.motion + k));
}

/** An even point of a shining triangle (Turk 1990), seen from a point. */
function shining(s: usize, time: f32, px: f32, py: f32, pz: f32, u1: f32, u2: f32): bool {
  const root = sqrt<f32>(u1);
  const u = root * (1 - u2);
  const v = root * u2;
  const ex = now(s, 3, time);
  const ey = now(s, 4, time);
  const ez = now(s, 5, time);
  const fx = now(s, 6, time);
  const fy = now(s, 7, time);
  const fz = now(s, 8, time);
  if (
    !towards(
      now(s, 0, time) + u * ex + v * fx - px,
      now(s, 1, time) + u * ey + v * fy - py,
      now(s, 2, time) + u * ez + v * fz - pz,
    )
  )
    return false;
  const mx = ey * fz - ez * fy;
  const my = ez * fx - ex * fz;
  const mz = ex * fy - ey * fx;
  const c = abs<f32>(mx * lightX + my * lightY + mz * lightZ) / lengthOf(mx, my, mz);
  if (!(c > 1e-6)) return false;
  const triangle = load<i32>(s + 4 * Shining.triangle);
  lightDensity = (densityOf(triangle) * lightDistance * lightDistance) / c;
  lightSource = Source.shining;
  const scale: f32 = 1 / lightDensity;
  lightR = lightG = lightB = scale;
  if (emissionAt(partOf(triangle), triangle, u, v)) {
    lightR *= glowR;
    lightG *= glowG;
    lightB *= glowB;
  }
  return true;
}
