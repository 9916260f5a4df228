/**
 * The three ways of scattering light, as in render/materials/: an opaque base under a clear coat, a metal, glass.
 * GGX microfacets with Smith's shadowing (Walter et al. 2007), visible normals by Heitz (2018), Fresnel's reflectance
 * and Schlick's approximation.
 */
import { Lobe, Scatter } from './layout';
import { cosine, lengthOf, outX, outY, outZ, setFrame, sine, toLocal, toWorld, turn } from './arithmetic';
import {
  alpha,
  blue,
  facing,
  green,
  ior,
  nx,
  ny,
  nz,
  outside,
  red,
  roughness,
  thin,
  wx,
  wy,
  wz,
} from './here';

const PI: f32 = 3.14159265358979;
/** Glass smoother than this is perfectly smooth. */
const SMOOTH: f32 = 0.03;

/** What {@link evaluate} tells: light from a direction times cosine, diffuse and reflected apart, and their densities. */
export let diffuseR: f32 = 0;
export let diffuseG: f32 = 0;
export let diffuseB: f32 = 0;
export let reflectedR: f32 = 0;
export let reflectedG: f32 = 0;
export let reflectedB: f32 = 0;
export let diffuseDensity: f32 = 0;
export let reflectedDensity: f32 = 0;

/** What {@link scatter} chooses: direction, throughput, what happened, and density (0 for a perfect mirror or glass). */
export let toX: f32 = 0;
export let toY: f32 = 0;
export let toZ: f32 = 0;
export let weightR: f32 = 0;
export let weightG: f32 = 0;
export let weightB: f32 = 0;
export let lobe: i32 = 0;
export let density: f32 = 0;

// inline
function schlick(f0: f32, c: f32): f32 {
  const m: f32 = 1 - min<f32>(1, max<f32>(0, c));
  const q = m * m;
  return f0 + (1 - f0) * q * q * m;
}

/** Reflectance of a smooth dielectric, unpolarised; `eta` is the ratio of indices behind to before. */
function fresnelDielectric(c: f32, eta: f32): f32 {
  const sin2: f32 = (1 - c * c) / (eta * eta);
  if (sin2 >= 1) return 1;
  const inner = sqrt<f32>(1 - sin2);
  const s: f32 = (c - eta * inner) / (c + eta * inner);
  const p: f32 = (eta * c - inner) / (eta * c + inner);
  return (s * s + p * p) / 2;
}

// inline
function lambda(c: f32): f32 {
  const c2 = c * c;
  const tan2: f32 = max<f32>(0, 1 - c2) / max<f32>(c2, 1e-12);
  return (-1 + sqrt<f32>(1 + alpha * alpha * tan2)) / 2;
}

/** Cosine between viewer and microfacet normal, and density of reflecting at a visible microfacet. */
let facetCosine: f32 = 0;
let facetDensity: f32 = 0;

/** D * G / (4 cos v), the microfacet term times the light's cosine without Fresnel. */
function microfacet(x: f32, y: f32, z: f32): f32 {
  const nl = nx * x + ny * y + nz * z;
  facetDensity = 0;
  if (nl <= 0 || facing <= 0) return 0;
  let hx = x + wx;
  let hy = y + wy;
  let hz = z + wz;
  const h: f32 = 1 / lengthOf(hx, hy, hz);
  hx *= h;
  hy *= h;
  hz *= h;
  facetCosine = wx * hx + wy * hy + wz * hz;
  // The square of the sine as a product: what is left of one minus the cosine's square would be rounding, near the peak.
  const cx = ny * hz - nz * hy;
  const cy = nz * hx - nx * hz;
  const cz = nx * hy - ny * hx;
  const s2 = cx * cx + cy * cy + cz * cz;
  const a2 = alpha * alpha;
  const k: f32 = (1 - s2) * a2 + s2;
  const d: f32 = a2 / (PI * k * k) / (4 * facing);
  const lv = lambda(facing);
  // Visible normals have density D G1 (v.h) / cos v; turning it into directions divides by 4 v.h.
  facetDensity = d / (1 + lv);
  return d / (1 + lv + lambda(nl));
}

/** Samples a visible microfacet normal in the world, into `out`. */
function sampleFacet(u1: f32, u2: f32): void {
  setFrame(nx, ny, nz);
  toLocal(wx, wy, wz);
  let vx = alpha * outX;
  let vy = alpha * outY;
  let vz = max<f32>(1e-4, outZ);
  const length = lengthOf(vx, vy, vz);
  vx /= length;
  vy /= length;
  vz /= length;
  const flat = vx * vx + vy * vy;
  const inverse: f32 = flat > 0 ? 1 / sqrt<f32>(flat) : 0;
  const t1x: f32 = flat > 0 ? -vy * inverse : 1;
  const t1y: f32 = flat > 0 ? vx * inverse : 0;
  const t2x: f32 = -vz * t1y;
  const t2y: f32 = vz * t1x;
  const t2z: f32 = vx * t1y - vy * t1x;
  const r = sqrt<f32>(u1);
  turn(u2);
  const p1 = r * cosine;
  const s: f32 = 0.5 * (1 + vz);
  const p2: f32 = (1 - s) * sqrt<f32>(max<f32>(0, 1 - p1 * p1)) + s * r * sine;
  const p3 = sqrt<f32>(max<f32>(0, 1 - p1 * p1 - p2 * p2));
  const mx = alpha * (p1 * t1x + p2 * t2x + p3 * vx);
  const my = alpha * (p1 * t1y + p2 * t2y + p3 * vy);
  const mz: f32 = max<f32>(1e-6, p2 * t2z + p3 * vz);
  const m = lengthOf(mx, my, mz);
  toWorld(mx / m, my / m, mz / m);
}

/** Reflects at a sampled visible microfacet; the weight without Fresnel, 0 if the light would come from below. */
function sampleMicrofacet(u1: f32, u2: f32): f32 {
  sampleFacet(u1, u2);
  const vh = wx * outX + wy * outY + wz * outZ;
  if (vh <= 0) return 0;
  toX = 2 * vh * outX - wx;
  toY = 2 * vh * outY - wy;
  toZ = 2 * vh * outZ - wz;
  lobe = Lobe.reflect;
  const term = microfacet(toX, toY, toZ);
  facetCosine = vh;
  density = facetDensity;
  return facetDensity > 0 ? term / facetDensity : 0;
}

// inline
function f0(): f32 {
  const r: f32 = (ior - 1) / (ior + 1);
  return r * r;
}
/** Probability of following the coat's reflection. */
// inline
function shineOf(reflected: f32): f32 {
  return min<f32>(0.9, max<f32>(0.1, reflected * 1.5));
}

/** Light that the surface sends to the viewer from a direction; glass scatters none that could be sampled. */
export function evaluate(kind: i32, x: f32, y: f32, z: f32): void {
  diffuseR = diffuseG = diffuseB = reflectedR = reflectedG = reflectedB = 0;
  diffuseDensity = reflectedDensity = 0;
  if (kind == Scatter.metal) {
    const term = microfacet(x, y, z);
    reflectedDensity = facetDensity;
    if (term <= 0) return;
    reflectedR = term * schlick(red, facetCosine);
    reflectedG = term * schlick(green, facetCosine);
    reflectedB = term * schlick(blue, facetCosine);
    return;
  }
  const nl = nx * x + ny * y + nz * z;
  if (nl <= 0) return;
  const straight = f0();
  const reflected = schlick(straight, facing);
  const shine = shineOf(reflected);
  const coat = microfacet(x, y, z);
  if (coat > 0) reflectedR = reflectedG = reflectedB = coat * schlick(straight, facetCosine);
  reflectedDensity = shine * facetDensity;
  const base: f32 = ((1 - reflected) * nl) / PI;
  diffuseR = red * base;
  diffuseG = green * base;
  diffuseB = blue * base;
  diffuseDensity = ((1 - shine) * nl) / PI;
}

/** A diffuse base under a rough clear coat; what the coat reflects does not reach the base. */
// inline
function scatterOpaque(choice: f32, u1: f32, u2: f32): bool {
  const straight = f0();
  const reflected = schlick(straight, facing);
  const shine = shineOf(reflected);
  if (choice < shine) {
    const weight = sampleMicrofacet(u1, u2);
    weightR = weightG = weightB = (weight * schlick(straight, facetCosine)) / shine;
    density *= shine;
    return weight > 0;
  }
  // Cosine-weighted directions; the cosine and pi cancel against the density.
  const r = sqrt<f32>(u1);
  const up = sqrt<f32>(max<f32>(0, 1 - u1));
  turn(u2);
  setFrame(nx, ny, nz);
  toWorld(r * cosine, r * sine, up);
  toX = outX;
  toY = outY;
  toZ = outZ;
  lobe = Lobe.diffuse;
  density = ((1 - shine) * up) / PI;
  const w: f32 = (1 - reflected) / (1 - shine);
  weightR = red * w;
  weightG = green * w;
  weightB = blue * w;
  return true;
}

/** A rough mirror whose reflectance at normal incidence is the metal's colour. */
// inline
function scatterMetal(u1: f32, u2: f32): bool {
  const weight = sampleMicrofacet(u1, u2);
  weightR = weight * schlick(red, facetCosine);
  weightG = weight * schlick(green, facetCosine);
  weightB = weight * schlick(blue, facetCosine);
  return weight > 0;
}

/**
 * Solid glass bends light by Snell's law; a thin wall reflects at both its sides and lets the rest go straight on. A
 * rough surface does the same at a microfacet.
 */
function scatterGlass(choice: f32, u1: f32, u2: f32): bool {
  const rough = roughness >= SMOOTH;
  let mx = nx;
  let my = ny;
  let mz = nz;
  if (rough) {
    sampleFacet(u1, u2);
    mx = outX;
    my = outY;
    mz = outZ;
  }
  const c: f32 = min<f32>(1, mx * wx + my * wy + mz * wz);
  if (c <= 0) return false;
  const eta: f32 = thin || outside ? ior : 1 / ior;
  let reflected = fresnelDielectric(c, eta);
  // Light bounces between the two sides of a thin wall: the sum of the series is 2R / (1 + R).
  if (thin) reflected = (2 * reflected) / (1 + reflected);
  weightR = weightG = weightB = 1;
  density = 0;
  if (choice < reflected) {
    toX = 2 * c * mx - wx;
    toY = 2 * c * my - wy;
    toZ = 2 * c * mz - wz;
    lobe = Lobe.reflect;
  } else {
    lobe = Lobe.through;
    if (thin && !rough) {
      toX = -wx;
      toY = -wy;
      toZ = -wz;
    } else if (thin) {
      // What a rough thin wall scatters on is its reflection, mirrored to the other side.
      const x: f32 = 2 * c * mx - wx;
      const y: f32 = 2 * c * my - wy;
      const z: f32 = 2 * c * mz - wz;
      const up: f32 = 2 * (x * nx + y * ny + z * nz);
      toX = x - up * nx;
      toY = y - up * ny;
      toZ = z - up * nz;
    } else {
      const inner = sqrt<f32>(max<f32>(0, 1 - (1 - c * c) / (eta * eta)));
      const k: f32 = c / eta - inner;
      toX = k * mx - wx / eta;
      toY = k * my - wy / eta;
      toZ = k * mz - wz / eta;
    }
    // A solid takes its colour once on the way in, a thin wall at every crossing.
    if (thin || outside) {
      weightR = red;
      weightG = green;
      weightB = blue;
    }
  }
  if (!rough) return true;
  const side = toX * nx + toY * ny + toZ * nz;
  if ((lobe == Lobe.reflect) != side > 0) return false;
  // Visible normals leave the share G2 / G1 of the light.
  const lv = lambda(facing);
  const share: f32 = (1 + lv) / (1 + lv + lambda(abs<f32>(side)));
  weightR *= share;
  weightG *= share;
  weightB *= share;
  return true;
}

/** Chooses the next direction; false if the path ends here. */
export function scatter(kind: i32, choice: f32, u1: f32, u2: f32): bool {
  if (kind == Scatter.opaque) return scatterOpaque(choice, u1, u2);
  if (kind == Scatter.metal) return scatterMetal(u1, u2);
  return scatterGlass(choice, u1, u2);
}
