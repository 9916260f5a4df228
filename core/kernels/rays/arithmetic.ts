/** How far rays begin from the surface that they leave, in scene units. */
export const OFFSET: f32 = 2e-4;

/** Results of the functions below: vectors come back here, since a function has one result. */
export let outX: f32 = 0;
export let outY: f32 = 0;
export let outZ: f32 = 0;
export let cosine: f32 = 0;
export let sine: f32 = 0;

// inline
export function lengthOf(x: f32, y: f32, z: f32): f32 {
  return sqrt<f32>(x * x + y * y + z * z);
}
// inline
export function luminance(r: f32, g: f32, b: f32): f32 {
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

const QUARTER: f32 = 1.5707963267948966;

/** Cosine and sine of a share of a full turn, 0 to 1: series on the eighth of a turn next to a quarter. */
export function turn(share: f32): void {
  const quarters = nearest<f32>(share * 4);
  const a = (share * 4 - quarters) * QUARTER;
  const q = a * a;
  const s: f32 = a * (1 + q * (-0.16666667 + q * (0.008333333 + q * -0.0001984127)));
  const c: f32 = 1 + q * (-0.5 + q * (0.041666667 + q * (-0.0013888889 + q * 0.000024801587)));
  const k = <i32>quarters & 3;
  cosine = k == 0 ? c : k == 1 ? -s : k == 2 ? -c : s;
  sine = k == 0 ? s : k == 1 ? c : k == 2 ? -s : -c;
}

let tangentX: f32 = 0;
let tangentY: f32 = 0;
let tangentZ: f32 = 0;
let acrossX: f32 = 0;
let acrossY: f32 = 0;
let acrossZ: f32 = 0;
let upX: f32 = 0;
let upY: f32 = 0;
let upZ: f32 = 0;

/** An orthonormal frame around a normal (Duff et al., "Building an Orthonormal Basis, Revisited", 2017). */
export function setFrame(x: f32, y: f32, z: f32): void {
  const sign: f32 = z >= 0 ? 1 : -1;
  const a: f32 = -1 / (sign + z);
  const b = x * y * a;
  tangentX = 1 + sign * x * x * a;
  tangentY = sign * b;
  tangentZ = -sign * x;
  acrossX = b;
  acrossY = sign + y * y * a;
  acrossZ = -y;
  upX = x;
  upY = y;
  upZ = z;
}
export function toLocal(x: f32, y: f32, z: f32): void {
  outX = x * tangentX + y * tangentY + z * tangentZ;
  outY = x * acrossX + y * acrossY + z * acrossZ;
  outZ = x * upX + y * upY + z * upZ;
}
export function toWorld(x: f32, y: f32, z: f32): void {
  outX = x * tangentX + y * acrossX + z * upX;
  outY = x * tangentY + y * acrossY + z * upY;
  outZ = x * tangentZ + y * acrossZ + z * upZ;
}
