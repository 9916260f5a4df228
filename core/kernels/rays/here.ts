/** The point on a surface that is being shaded, as its material sees it. All vectors are unit vectors in the world. */
import { Field, Material } from './layout';
import { int, number, partOf } from './memory';
import { materialOf } from './textures';

/** Shading normal on the viewer's side, the triangle's own, and the way to the viewer. */
export let nx: f32 = 0;
export let ny: f32 = 0;
export let nz: f32 = 1;
export let gx: f32 = 0;
export let gy: f32 = 0;
export let gz: f32 = 1;
export let wx: f32 = 0;
export let wy: f32 = 0;
export let wz: f32 = 1;
export let red: f32 = 0;
export let green: f32 = 0;
export let blue: f32 = 0;
/** GGX alpha, and cosine to the viewer. */
export let alpha: f32 = 1;
export let facing: f32 = 1;
export let roughness: f32 = 1;
export let ior: f32 = 1.5;
export let outside: bool = true;
/** Glass without an inside. */
export let thin: bool = false;

/** Smoothest lobe that is still lit by sampled lights. */
const LEAST_ALPHA: f32 = 0.0064;

/** Goes to the surface that a path has met. */
export function enter(path: i32): void {
  nx = number(Field.normalX, path);
  ny = number(Field.normalY, path);
  nz = number(Field.normalZ, path);
  gx = number(Field.flatX, path);
  gy = number(Field.flatY, path);
  gz = number(Field.flatZ, path);
  wx = -number(Field.directionX, path);
  wy = -number(Field.directionY, path);
  wz = -number(Field.directionZ, path);
  facing = nx * wx + ny * wy + nz * wz;
  red = number(Field.red, path);
  green = number(Field.green, path);
  blue = number(Field.blue, path);
  roughness = number(Field.roughness, path);
  alpha = max<f32>(LEAST_ALPHA, roughness * roughness);
  outside = int(Field.outside, path) != 0;
  const material = materialOf(partOf(int(Field.triangle, path)));
  ior = load<f32>(material + 4 * Material.ior);
  thin = load<f32>(material + 4 * Material.transmission) > 0 && !load<i32>(material + 4 * Material.absorbs);
}
