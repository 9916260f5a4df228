/** Pictures on surfaces: 8 bits a channel, sampled bilinearly as in scene/texture.ts. */
import { Alpha, Material, Part, Scene, Texture, Use, Wrap } from './layout';
import { materials, sceneInt } from './memory';

/** The last sample: linear colour or data, and alpha. */
export let texelR: f32 = 0;
export let texelG: f32 = 0;
export let texelB: f32 = 0;
export let texelA: f32 = 0;

function wrapped(i: i32, size: i32, wrap: i32): i32 {
  if (wrap == Wrap.clamp) return i < 0 ? 0 : i >= size ? size - 1 : i;
  if (wrap == Wrap.repeat) return ((i % size) + size) % size;
  const j = ((i % (2 * size)) + 2 * size) % (2 * size);
  return j < size ? j : 2 * size - 1 - j;
}

/** Linear light of an 8-bit sRGB number (IEC 61966-2-1): from the table that the host lays before the textures. */
// inline
function linear(byte: i32): f32 {
  return load<f32>(sceneInt(Scene.textures) + 4 * byte);
}

function sample(texture: usize, u: f32, v: f32, srgb: bool): void {
  const width = load<i32>(texture + 4 * Texture.width);
  const height = load<i32>(texture + 4 * Texture.height);
  const data: usize = load<i32>(texture + 4 * Texture.data);
  const x = <f64>u * width - 0.5;
  const y = <f64>v * height - 0.5;
  const left = floor<f64>(x);
  const above = floor<f64>(y);
  const fx = <f32>(x - left);
  const fy = <f32>(y - above);
  texelR = texelG = texelB = texelA = 0;
  if (!(fx >= 0) || !(fy >= 0)) return;
  const wrapS = load<i32>(texture + 4 * Texture.wrapS);
  const wrapT = load<i32>(texture + 4 * Texture.wrapT);
  const x0 = wrapped(<i32>left, width, wrapS);
  const x1 = wrapped(<i32>left + 1, width, wrapS);
  const y0 = width * wrapped(<i32>above, height, wrapT);
  const y1 = width * wrapped(<i32>above + 1, height, wrapT);
  add(data + 4 * (y0 + x0), (1 - fx) * (1 - fy), srgb);
  add(data + 4 * (y0 + x1), fx * (1 - fy), srgb);
  add(data + 4 * (y1 + x0), (1 - fx) * fy, srgb);
  add(data + 4 * (y1 + x1), fx * fy, srgb);
}

// inline
function add(texel: usize, weight: f32, srgb: bool): void {
  const r = <i32>load<u8>(texel);
  const g = <i32>load<u8>(texel + 1);
  const b = <i32>load<u8>(texel + 2);
  if (srgb) {
    texelR += weight * linear(r);
    texelG += weight * linear(g);
    texelB += weight * linear(b);
  } else {
    texelR += weight * (<f32>r / 255);
    texelG += weight * (<f32>g / 255);
    texelB += weight * (<f32>b / 255);
  }
  texelA += weight * (<f32>load<u8>(texel + 3) / 255);
}

/** Samples a material's texture at a point of a triangle; false if it has none. */
export function textureAt(material: usize, map: i32, triangle: i32, u: f32, v: f32, srgb: bool): bool {
  const use = material + 4 * map;
  const texture: usize = load<i32>(use + 4 * Use.texture);
  if (!texture) return false;
  const indices: usize = sceneInt(Scene.indices) + 12 * triangle;
  const uvs: usize = sceneInt(Scene.uvs) + 8 * load<i32>(use + 4 * Use.set);
  const a = uvs + 16 * load<i32>(indices);
  const b = uvs + 16 * load<i32>(indices + 4);
  const c = uvs + 16 * load<i32>(indices + 8);
  const w: f32 = 1 - u - v;
  const s = w * load<f32>(a) + u * load<f32>(b) + v * load<f32>(c);
  const t = w * load<f32>(a + 4) + u * load<f32>(b + 4) + v * load<f32>(c + 4);
  const m = use + 4 * Use.rows;
  sample(
    texture,
    load<f32>(m) * s + load<f32>(m + 4) * t + load<f32>(m + 8),
    load<f32>(m + 12) * s + load<f32>(m + 16) * t + load<f32>(m + 20),
    srgb,
  );
  return true;
}

// inline
export function materialOf(part: usize): usize {
  return materials + 4 * Material.count * load<i32>(part + 4 * Part.material);
}

/** Opacity of a part at a point of its triangle: 0 lets everything pass. A mask gives 0 or 1. */
export function opacityOf(part: usize, triangle: i32, u: f32, v: f32): f32 {
  const material = materialOf(part);
  const mode = load<i32>(material + 4 * Material.alphaMode);
  if (mode == Alpha.opaque) return 1;
  let alpha = load<f32>(material + 4 * Material.alpha);
  if (textureAt(material, Material.colourMap, triangle, u, v, false)) alpha *= texelA;
  if (mode == Alpha.mask) return alpha < load<f32>(material + 4 * Material.cutoff) ? 0 : 1;
  return alpha;
}
