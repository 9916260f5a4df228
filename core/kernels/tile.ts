/**
 * One tile of a picture: pixels under a mask are gathered, corrected at full strength, blended back by coverage, and
 * the tile is turned into bytes for the screen. Four pixels at a time. `kernels/tile.ts` beside the plain code says
 * which numbers a step takes; `docs/decisions/tolerances.md` how far it may be from the plain code.
 */
const PIXELS: u32 = 4096;
const PLANE: usize = 4 * PIXELS;

const red = memory.data(3 * 4 * 4096, 64);
const green = red + PLANE;
const blue = green + PLANE;
const cover = memory.data(4 * 4096, 64);
/** The tile as rendered, which limits go by. */
const rendered = memory.data(3 * 4 * 4096, 64);
/** What lies under the mask, with room for three pixels that only fill up the last vector. */
const pickedRed = memory.data(4 * 4100, 64);
const pickedGreen = memory.data(4 * 4100, 64);
const pickedBlue = memory.data(4 * 4100, 64);
/** The same as it was before a step of which only a part counts. */
const keptRed = memory.data(4 * 4100, 64);
const keptGreen = memory.data(4 * 4100, 64);
const keptBlue = memory.data(4 * 4100, 64);
/** How much of a step counts, pixel by pixel, where it is limited. */
const shares = memory.data(4 * 4100, 64);
const place = memory.data(2 * 4100, 64);
const program = memory.data(4 * 4096, 64);
/** Display bytes by the upper bits of a number from 2^-14 to 1. */
const table = memory.data(18432 + 64, 64);
const bytes = memory.data(4 * 4096, 64);

export function heap(): usize {
  return __heap_base;
}
export function planesAt(): usize {
  return red;
}
export function coverAt(): usize {
  return cover;
}
export function renderedAt(): usize {
  return rendered;
}
export function programAt(): usize {
  return program;
}
export function tableAt(): usize {
  return table;
}
export function bytesAt(): usize {
  return bytes;
}

function sum3(a: f32, x: v128, b: f32, y: v128, c: f32, z: v128): v128 {
  return f32x4.add(
    f32x4.add(f32x4.mul(f32x4.splat(a), x), f32x4.mul(f32x4.splat(b), y)),
    f32x4.mul(f32x4.splat(c), z),
  );
}

/** Cube root with its sign: a third of the exponent to begin with, then Halley's iteration. */
function cubeRoot(x: v128): v128 {
  const sign = v128.and(x, i32x4.splat(0x80000000));
  const a = v128.andnot(x, i32x4.splat(0x80000000));
  let y = i32x4.add(
    i32x4.trunc_sat_f32x4_s(f32x4.mul(f32x4.convert_i32x4_s(a), f32x4.splat(<f32>0.33333333))),
    i32x4.splat(0x2a5137a0),
  );
  for (let k = 0; k < 2; k++) {
    const cube = f32x4.mul(f32x4.mul(y, y), y);
    y = f32x4.mul(y, f32x4.div(f32x4.add(cube, f32x4.add(a, a)), f32x4.add(f32x4.add(cube, cube), a)));
  }
  // Infinity and what is not a number go through as they are; next to nothing becomes nothing.
  y = v128.bitselect(a, y, v128.or(f32x4.eq(a, f32x4.splat(f32.POSITIVE_INFINITY)), f32x4.ne(a, a)));
  y = v128.andnot(y, f32x4.lt(a, f32x4.splat(<f32>1e-36)));
  return v128.or(y, sign);
}

let outRed: v128 = f32x4.splat(0);
let outGreen: v128 = f32x4.splat(0);
let outBlue: v128 = f32x4.splat(0);

/** Oklab to linear light; see `colour/oklab.ts`. */
function toRgb(L: v128, a: v128, b: v128): void {
  const l = f32x4.add(
    L,
    f32x4.add(f32x4.mul(f32x4.splat(0.3963377774), a), f32x4.mul(f32x4.splat(0.2158037573), b)),
  );
  const m = f32x4.sub(
    L,
    f32x4.add(f32x4.mul(f32x4.splat(0.1055613458), a), f32x4.mul(f32x4.splat(0.0638541728), b)),
  );
  const s = f32x4.sub(
    L,
    f32x4.add(f32x4.mul(f32x4.splat(0.0894841775), a), f32x4.mul(f32x4.splat(1.291485548), b)),
  );
  const l3 = f32x4.mul(f32x4.mul(l, l), l);
  const m3 = f32x4.mul(f32x4.mul(m, m), m);
  const s3 = f32x4.mul(f32x4.mul(s, s), s);
  outRed = sum3(4.0767416621, l3, -3.3077115913, m3, 0.2309699292, s3);
  outGreen = sum3(-1.2684380046, l3, 2.6097574011, m3, -0.3413193965, s3);
  outBlue = sum3(-0.0041960863, l3, -0.7034186147, m3, 1.707614701, s3);
}

function anyBelow(floor: v128): v128 {
  return v128.or(v128.or(f32x4.lt(outRed, floor), f32x4.lt(outGreen, floor)), f32x4.lt(outBlue, floor));
}

/** Largest value that 32 bits are precise enough for: beyond, sums of large terms leave too little. */
const BRIGHT: f32 = 2;

function cubeRoot64(x: f64): f64 {
  const a = abs(x);
  if (!(a > 1e-36) || a == Infinity) return x == x && a != Infinity ? 0 : x;
  // As in cubeRoot, then one step of Halley's in 64 bits.
  let y: f64 = <f64>reinterpret<f32>(<i32>(<f32>reinterpret<i32>(<f32>a) * <f32>0.33333333) + 0x2a5137a0);
  for (let k = 0; k < 3; k++) {
    const cube = y * y * y;
    y = (y * (cube + a + a)) / (cube + cube + a);
  }
  return x < 0 ? -y : y;
}

let red64: f64 = 0;
let green64: f64 = 0;
let blue64: f64 = 0;
function toRgb64(L: f64, a: f64, b: f64): void {
  const l = L + 0.3963377774 * a + 0.2158037573 * b;
  const m = L - 0.1055613458 * a - 0.0638541728 * b;
  const s = L - 0.0894841775 * a - 1.291485548 * b;
  const l3 = l * l * l;
  const m3 = m * m * m;
  const s3 = s * s * s;
  red64 = 4.0767416621 * l3 - 3.3077115913 * m3 + 0.2309699292 * s3;
  green64 = -1.2684380046 * l3 + 2.6097574011 * m3 - 0.3413193965 * s3;
  blue64 = -0.0041960863 * l3 - 0.7034186147 * m3 + 1.707614701 * s3;
}

/** `turn` for one bright pixel in 64 bits, to be written at `o`. */
function turn64(
  x: f64,
  y: f64,
  z: f64,
  o: usize,
  cos: f64,
  sin: f64,
  light: f64,
  halvings: u32,
  toA: f64,
  toB: f64,
): void {
  const floor = min<f64>(0, min<f64>(x, min<f64>(y, z))) - 1e-6;
  const l = cubeRoot64(0.4122214708 * x + 0.5363325363 * y + 0.0514459929 * z);
  const m = cubeRoot64(0.2119034982 * x + 0.6806995451 * y + 0.1073969566 * z);
  const q = cubeRoot64(0.0883024619 * x + 0.2817188376 * y + 0.6299787005 * z);
  const L = (0.2104542553 * l + 0.793617785 * m - 0.0040720468 * q) * light;
  const a = 1.9779984951 * l - 2.428592205 * m + 0.4505937099 * q;
  const b = 0.0259040371 * l + 0.7827717662 * m - 0.808675766 * q;
  const A = a * cos - b * sin + L * toA;
  const B = a * sin + b * cos + L * toB;
  toRgb64(L, A, B);
  if (red64 < floor || green64 < floor || blue64 < floor) {
    let low: f64 = 0;
    let high: f64 = 1;
    for (let k: u32 = 0; k < halvings; k++) {
      const middle = (low + high) / 2;
      toRgb64(L, A * middle, B * middle);
      if (red64 < floor || green64 < floor || blue64 < floor) high = middle;
      else low = middle;
    }
    toRgb64(L, A * low, B * low);
  }
  store<f32>(pickedRed + o, held64(red64));
  store<f32>(pickedGreen + o, held64(green64));
  store<f32>(pickedBlue + o, held64(blue64));
}

/** No step makes anything that is not finite. */
const MOST: f32 = f32.MAX_VALUE;
function within(v: v128, most: f32): v128 {
  return f32x4.max(f32x4.splat(-most), f32x4.min(f32x4.splat(most), v));
}
function held(v: v128): v128 {
  return within(v, MOST);
}
function held64(v: f64): f32 {
  return <f32>max<f64>(-MOST, min<f64>(MOST, v));
}

/** See `corrections/exposure.ts`. */
function gain(n: u32, by: f32): void {
  const g = f32x4.splat(by);
  for (let o: usize = 0; o < 4 * <usize>n; o += 16) {
    v128.store(pickedRed + o, held(f32x4.mul(v128.load(pickedRed + o), g)));
    v128.store(pickedGreen + o, held(f32x4.mul(v128.load(pickedGreen + o), g)));
    v128.store(pickedBlue + o, held(f32x4.mul(v128.load(pickedBlue + o), g)));
  }
}

/** See `corrections/hue-saturation-lightness.ts`; `toA` and `toB` are added for each unit of lightness. */
function turn(n: u32, cos: f32, sin: f32, light: f32, halvings: u32, toA: f32, toB: f32): void {
  const c = f32x4.splat(cos);
  const s = f32x4.splat(sin);
  const li = f32x4.splat(light);
  const zero = f32x4.splat(0);
  const half = f32x4.splat(0.5);
  for (let o: usize = 0; o < 4 * <usize>n; o += 16) {
    const x = v128.load(pickedRed + o);
    const y = v128.load(pickedGreen + o);
    const z = v128.load(pickedBlue + o);
    const floor = f32x4.sub(f32x4.min(zero, f32x4.min(x, f32x4.min(y, z))), f32x4.splat(<f32>1e-6));
    const l = cubeRoot(sum3(0.4122214708, x, 0.5363325363, y, 0.0514459929, z));
    const m = cubeRoot(sum3(0.2119034982, x, 0.6806995451, y, 0.1073969566, z));
    const q = cubeRoot(sum3(0.0883024619, x, 0.2817188376, y, 0.6299787005, z));
    const L = f32x4.mul(sum3(0.2104542553, l, 0.793617785, m, -0.0040720468, q), li);
    const a = sum3(1.9779984951, l, -2.428592205, m, 0.4505937099, q);
    const b = sum3(0.0259040371, l, 0.7827717662, m, -0.808675766, q);
    const A = f32x4.add(f32x4.sub(f32x4.mul(a, c), f32x4.mul(b, s)), f32x4.mul(L, f32x4.splat(toA)));
    const B = f32x4.add(f32x4.add(f32x4.mul(a, s), f32x4.mul(b, c)), f32x4.mul(L, f32x4.splat(toB)));
    toRgb(L, A, B);
    const most = f32x4.max(f32x4.max(f32x4.abs(outRed), f32x4.abs(outGreen)), f32x4.abs(outBlue));
    const outside = anyBelow(floor);
    if (v128.any_true(outside)) {
      let low = zero;
      let high = f32x4.splat(1);
      for (let k: u32 = 0; k < halvings; k++) {
        const middle = f32x4.mul(f32x4.add(low, high), half);
        toRgb(L, f32x4.mul(A, middle), f32x4.mul(B, middle));
        const bad = anyBelow(floor);
        high = v128.bitselect(middle, high, bad);
        low = v128.bitselect(low, middle, bad);
      }
      const k = v128.bitselect(low, f32x4.splat(1), outside);
      toRgb(L, f32x4.mul(A, k), f32x4.mul(B, k));
    }
    v128.store(pickedRed + o, outRed);
    v128.store(pickedGreen + o, outGreen);
    v128.store(pickedBlue + o, outBlue);
    // Each by itself, so that a pixel does not depend on which ones stand beside it.
    const bright = i32x4.bitmask(v128.not(f32x4.le(most, f32x4.splat(BRIGHT))));
    if (bright == 0) continue;
    if (bright & 1)
      turn64(
        f32x4.extract_lane(x, 0),
        f32x4.extract_lane(y, 0),
        f32x4.extract_lane(z, 0),
        o,
        cos,
        sin,
        light,
        halvings,
        toA,
        toB,
      );
    if (bright & 2)
      turn64(
        f32x4.extract_lane(x, 1),
        f32x4.extract_lane(y, 1),
        f32x4.extract_lane(z, 1),
        o + 4,
        cos,
        sin,
        light,
        halvings,
        toA,
        toB,
      );
    if (bright & 4)
      turn64(
        f32x4.extract_lane(x, 2),
        f32x4.extract_lane(y, 2),
        f32x4.extract_lane(z, 2),
        o + 8,
        cos,
        sin,
        light,
        halvings,
        toA,
        toB,
      );
    if (bright & 8)
      turn64(
        f32x4.extract_lane(x, 3),
        f32x4.extract_lane(y, 3),
        f32x4.extract_lane(z, 3),
        o + 12,
        cos,
        sin,
        light,
        halvings,
        toA,
        toB,
      );
  }
}

/** Lets `now` count as much as `amount` says, and what was before the rest. */
function mix(before: usize, now: usize, size: usize, amount: f32): void {
  const a = f32x4.splat(amount);
  const rest = f32x4.splat(1 - amount);
  for (let o: usize = 0; o < size; o += 16)
    v128.store(now + o, f32x4.add(f32x4.mul(v128.load(before + o), rest), f32x4.mul(v128.load(now + o), a)));
}

/** 2 to the power of the numbers; beyond what 32 bits hold the largest, or nothing. */
function exp2(z: v128): v128 {
  const held = f32x4.max(f32x4.splat(-127), f32x4.min(f32x4.splat(<f32>127.99), z));
  const n = f32x4.nearest(held);
  const f = f32x4.sub(held, n);
  let p = f32x4.splat(<f32>1.52527338e-5);
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(<f32>1.54035304e-4));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(<f32>1.33335581e-3));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(<f32>9.61812911e-3));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(<f32>5.55041087e-2));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(<f32>0.240226507));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(<f32>0.693147181));
  p = f32x4.add(f32x4.mul(p, f), f32x4.splat(1));
  // In two halves, so that neither is beyond an exponent.
  const i = i32x4.trunc_sat_f32x4_s(n);
  const half = i32x4.shr_s(i, 1);
  const rest = i32x4.sub(i, half);
  const bias = i32x4.splat(127);
  const a = i32x4.shl(i32x4.add(half, bias), 23);
  const b = i32x4.shl(i32x4.add(rest, bias), 23);
  return v128.andnot(f32x4.mul(f32x4.mul(p, a), b), f32x4.lt(z, f32x4.splat(-126)));
}

/** Logarithm to the base of 2 of numbers above 0. */
function log2(x: v128): v128 {
  const e = i32x4.shr_s(i32x4.sub(x, i32x4.splat(0x3f3504f3)), 23);
  const m = i32x4.sub(x, i32x4.shl(e, 23));
  const one = f32x4.splat(1);
  const t = f32x4.div(f32x4.sub(m, one), f32x4.add(m, one));
  const t2 = f32x4.mul(t, t);
  let p = f32x4.splat(<f32>0.320598898);
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>0.412198583));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>0.577078016));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>0.961796694));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>2.885390082));
  return f32x4.add(f32x4.convert_i32x4_s(e), f32x4.mul(p, t));
}

/** base + gain * ((x - offset) * scale) ^ exponent; below 0 as `corrections/powers.ts` says. */
function power(at: usize, n: u32, offset: f32, scale: f32, exponent: f32, gain: f32, base: f32): void {
  const o = f32x4.splat(offset);
  const s = f32x4.splat(scale);
  const e = f32x4.splat(exponent);
  const g = f32x4.splat(gain);
  const b = f32x4.splat(base);
  const sign = i32x4.splat(0x80000000);
  // Less is nothing; the power of nothing is nothing but for that of 0.
  const least = f32x4.splat(<f32>1.17549435e-38);
  const ofNothing = f32x4.splat(exponent == 0 ? 1 : 0);
  const zero = f32x4.splat(0);
  for (let p: usize = at; p < at + 4 * <usize>n; p += 16) {
    const x = v128.load(p);
    let v = held(f32x4.mul(f32x4.sub(f32x4.max(x, zero), o), s));
    if (exponent != 1) {
      const below = v128.and(f32x4.lt(v, f32x4.splat(0)), sign);
      const a = v128.andnot(v, sign);
      const raised = v128.bitselect(ofNothing, exp2(f32x4.mul(e, log2(a))), f32x4.lt(a, least));
      v = v128.or(raised, below);
    }
    const curve = f32x4.max(zero, held(f32x4.add(b, f32x4.mul(g, v))));
    v128.store(p, f32x4.add(curve, f32x4.min(x, zero)));
  }
}

/** Each pixel through a 3x3 matrix, row by row at `p`. */
function matrix(n: u32, p: usize): void {
  for (let o: usize = 0; o < 4 * <usize>n; o += 16) {
    // Beyond what any light is; their sums are still numbers.
    const x = within(v128.load(pickedRed + o), <f32>1e36);
    const y = within(v128.load(pickedGreen + o), <f32>1e36);
    const z = within(v128.load(pickedBlue + o), <f32>1e36);
    v128.store(pickedRed + o, held(sum3(load<f32>(p), x, load<f32>(p, 4), y, load<f32>(p, 8), z)));
    v128.store(pickedGreen + o, held(sum3(load<f32>(p, 12), x, load<f32>(p, 16), y, load<f32>(p, 20), z)));
    v128.store(pickedBlue + o, held(sum3(load<f32>(p, 24), x, load<f32>(p, 28), y, load<f32>(p, 32), z)));
  }
}

/** So many times as far from its luma; no light becomes negative that was not. */
function farther(x: v128, luma: v128, by: v128): v128 {
  const least = f32x4.min(x, f32x4.splat(0));
  return f32x4.max(least, f32x4.add(luma, f32x4.mul(by, f32x4.sub(x, luma))));
}

/** (x * slope + offset) ^ power of each channel, then saturation; see `corrections/slope-offset-power.ts`. */
function slopes(n: u32, p: usize, saturation: f32): void {
  const zero = f32x4.splat(0);
  const least = f32x4.splat(<f32>1.17549435e-38);
  for (let channel: usize = 0; channel < 3; channel++) {
    const at = channel == 0 ? pickedRed : channel == 1 ? pickedGreen : pickedBlue;
    const slope = f32x4.splat(load<f32>(p + 4 * channel));
    const offset = f32x4.splat(load<f32>(p + 12 + 4 * channel));
    const exponent = load<f32>(p + 24 + 4 * channel);
    const e = f32x4.splat(exponent);
    for (let o: usize = 0; o < 4 * <usize>n; o += 16) {
      const x = v128.load(at + o);
      let v = f32x4.max(zero, held(f32x4.add(f32x4.mul(f32x4.max(x, zero), slope), offset)));
      if (exponent != 1) v = held(v128.andnot(exp2(f32x4.mul(e, log2(v))), f32x4.lt(v, least)));
      v128.store(at + o, f32x4.add(v, f32x4.min(x, zero)));
    }
  }
  if (saturation == 1) return;
  const s = f32x4.splat(saturation);
  for (let o: usize = 0; o < 4 * <usize>n; o += 16) {
    const x = within(v128.load(pickedRed + o), <f32>1e36);
    const y = within(v128.load(pickedGreen + o), <f32>1e36);
    const z = within(v128.load(pickedBlue + o), <f32>1e36);
    const luma = sum3(0.2126, x, 0.7152, y, 0.0722, z);
    v128.store(pickedRed + o, farther(x, luma, s));
    v128.store(pickedGreen + o, farther(y, luma, s));
    v128.store(pickedBlue + o, farther(z, luma, s));
  }
}

/** A multiplier of each channel for shadows, midtones and highlights; see `corrections/three-ranges.ts`. */
function ranges(n: u32, p: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let o: usize = 0; o < 4 * <usize>n; o += 16) {
    const x = v128.load(pickedRed + o);
    const y = v128.load(pickedGreen + o);
    const z = v128.load(pickedBlue + o);
    // Beyond what any light is; cubes of their roots are still numbers.
    const l = cubeRoot(within(sum3(0.4122214708, x, 0.5363325363, y, 0.0514459929, z), <f32>1e36));
    const m = cubeRoot(within(sum3(0.2119034982, x, 0.6806995451, y, 0.1073969566, z), <f32>1e36));
    const q = cubeRoot(within(sum3(0.0883024619, x, 0.2817188376, y, 0.6299787005, z), <f32>1e36));
    const L = sum3(0.2104542553, l, 0.793617785, m, -0.0040720468, q);
    const t = f32x4.min(one, f32x4.max(zero, L));
    const rest = f32x4.sub(one, t);
    const dark = f32x4.mul(rest, rest);
    const middle = f32x4.mul(f32x4.splat(2), f32x4.mul(t, rest));
    const light = f32x4.mul(t, t);
    const r = sum3(load<f32>(p), dark, load<f32>(p + 12), middle, load<f32>(p + 24), light);
    const g = sum3(load<f32>(p + 4), dark, load<f32>(p + 16), middle, load<f32>(p + 28), light);
    const b = sum3(load<f32>(p + 8), dark, load<f32>(p + 20), middle, load<f32>(p + 32), light);
    v128.store(pickedRed + o, held(f32x4.mul(x, r)));
    v128.store(pickedGreen + o, held(f32x4.mul(y, g)));
    v128.store(pickedBlue + o, held(f32x4.mul(z, b)));
  }
}

/** 1 where `over` is 0 or more, falling smoothly to 0 at `-soft`. */
function edge(over: v128, soft: f32): v128 {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const t = f32x4.add(one, f32x4.div(over, f32x4.splat(soft)));
  const smooth = f32x4.mul(f32x4.mul(t, t), f32x4.sub(f32x4.splat(3), f32x4.add(t, t)));
  const some = v128.andnot(smooth, f32x4.le(over, f32x4.splat(-soft)));
  return v128.bitselect(one, some, f32x4.ge(over, zero));
}

/** How much of `v` lies in the range at `p`: from, to and softness; at the ends of the scale there is nothing beyond. */
function inRange(v: v128, p: usize): v128 {
  const from = load<f32>(p);
  const to = load<f32>(p, 4);
  const soft = load<f32>(p, 8);
  let share = f32x4.splat(1);
  if (from > 0) share = edge(f32x4.sub(v, f32x4.splat(from)), soft);
  if (to < 1) share = f32x4.mul(share, edge(f32x4.sub(f32x4.splat(to), v), soft));
  return share;
}

/**
 * Angle in degrees, 0 to 180, of a point that is not below the axis. Abramowitz and Stegun 4.4.49: within 2e-8 of the
 * arc tangent between 0 and 1.
 */
function angle(x: v128, y: v128): v128 {
  const ax = f32x4.abs(x);
  const high = f32x4.max(ax, y);
  const t = f32x4.div(f32x4.min(ax, y), f32x4.max(high, f32x4.splat(<f32>1e-30)));
  const t2 = f32x4.mul(t, t);
  let p = f32x4.splat(<f32>0.0028662257);
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>-0.0161657367));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>0.0429096138));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>-0.07528964));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>0.1065626393));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>-0.1420889944));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>0.1999355085));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(<f32>-0.3333314528));
  p = f32x4.add(f32x4.mul(p, t2), f32x4.splat(1));
  let a = f32x4.mul(f32x4.mul(t, p), f32x4.splat(<f32>57.29577951));
  a = v128.bitselect(f32x4.sub(f32x4.splat(90), a), a, f32x4.gt(y, ax));
  return v128.bitselect(f32x4.sub(f32x4.splat(180), a), a, f32x4.lt(x, f32x4.splat(0)));
}

/** Below this share of lightness a pixel belongs less and less to any hue. */
const GREY: f32 = 0.03;

/** Four numbers of a plane, each at its place. */
function picked(plane: usize, i: usize): v128 {
  const at = place + 2 * i;
  let v = f32x4.splat(load<f32>(plane + 4 * <usize>load<u16>(at)));
  v = f32x4.replace_lane(v, 1, load<f32>(plane + 4 * <usize>load<u16>(at, 2)));
  v = f32x4.replace_lane(v, 2, load<f32>(plane + 4 * <usize>load<u16>(at, 4)));
  return f32x4.replace_lane(v, 3, load<f32>(plane + 4 * <usize>load<u16>(at, 6)));
}

/** Weighs each pixel by what it is in the picture as rendered; see `corrections/limit.ts`. */
function limit(n: u32, p: usize): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  const cos = f32x4.splat(load<f32>(p));
  const sin = f32x4.splat(load<f32>(p, 4));
  const half = load<f32>(p, 8);
  const hueSoft = load<f32>(p, 12);
  for (let i: usize = 0; i < <usize>n; i += 4) {
    const x = picked(rendered, i);
    const y = picked(rendered + PLANE, i);
    const z = picked(rendered + 2 * PLANE, i);
    const l = cubeRoot(sum3(0.4122214708, x, 0.5363325363, y, 0.0514459929, z));
    const m = cubeRoot(sum3(0.2119034982, x, 0.6806995451, y, 0.1073969566, z));
    const q = cubeRoot(sum3(0.0883024619, x, 0.2817188376, y, 0.6299787005, z));
    const L = sum3(0.2104542553, l, 0.793617785, m, -0.0040720468, q);
    const a = sum3(1.9779984951, l, -2.428592205, m, 0.4505937099, q);
    const b = sum3(0.0259040371, l, 0.7827717662, m, -0.808675766, q);
    const chroma = f32x4.sqrt(f32x4.add(f32x4.mul(a, a), f32x4.mul(b, b)));
    const s = v128.bitselect(f32x4.div(chroma, L), zero, f32x4.gt(L, f32x4.splat(<f32>1e-6)));
    let share = f32x4.mul(inRange(s, p + 16), inRange(L, p + 28));
    if (half < 180) {
      // Turned so that the hue lies on the axis, and the other side folded onto this one.
      const along = f32x4.add(f32x4.mul(a, cos), f32x4.mul(b, sin));
      const across = f32x4.abs(f32x4.sub(f32x4.mul(b, cos), f32x4.mul(a, sin)));
      const near = edge(f32x4.sub(f32x4.splat(half), angle(along, across)), hueSoft);
      share = f32x4.mul(share, f32x4.mul(near, f32x4.min(one, f32x4.div(s, f32x4.splat(GREY)))));
    }
    v128.store(shares + 4 * i, v128.and(share, f32x4.gt(share, zero)));
  }
}

/** Lets `now` count as much as `amount` times each pixel's share says. */
function mixShares(before: usize, now: usize, size: usize, amount: f32): void {
  const zero = f32x4.splat(0);
  const one = f32x4.splat(1);
  for (let o: usize = 0; o < size; o += 16) {
    const share = f32x4.mul(v128.load(shares + o), f32x4.splat(amount));
    const was = v128.load(before + o);
    const is = v128.load(now + o);
    const some = f32x4.add(f32x4.mul(was, f32x4.sub(one, share)), f32x4.mul(is, share));
    const whole = v128.bitselect(is, some, f32x4.ge(share, one));
    v128.store(now + o, v128.bitselect(whole, was, f32x4.gt(share, zero)));
  }
}

/** Applies `steps` steps of the program to the tile through `cover`. */
export function change(steps: u32): void {
  let n: u32 = 0;
  for (let i: u32 = 0; i < PIXELS; i += 4) {
    const c = v128.load(cover + 4 * i);
    if (!v128.any_true(f32x4.gt(c, f32x4.splat(0)))) continue;
    for (let k = i; k < i + 4; k++) {
      if (!(load<f32>(cover + 4 * k) > 0)) continue;
      // What is no finite colour cannot be corrected.
      const light = max(
        abs(load<f32>(red + 4 * k)),
        max(abs(load<f32>(green + 4 * k)), abs(load<f32>(blue + 4 * k))),
      );
      if (!(light <= MOST)) continue;
      store<u16>(place + 2 * n, <u16>k);
      store<f32>(pickedRed + 4 * n, load<f32>(red + 4 * k));
      store<f32>(pickedGreen + 4 * n, load<f32>(green + 4 * k));
      store<f32>(pickedBlue + 4 * n, load<f32>(blue + 4 * k));
      n++;
    }
  }
  // Places that only fill up the last vector.
  for (let i = n; i < n + 3; i++) store<u16>(place + 2 * i, 0);
  const size: usize = (4 * <usize>n + 15) & ~15;
  for (let s: u32 = 0; s < steps; s++) {
    const p = program + 128 * s;
    const kind = <u32>load<f32>(p);
    const amount = load<f32>(p + 60);
    const limited = load<f32>(p + 64) != 0;
    if (amount < 1 || limited) {
      memory.copy(keptRed, pickedRed, size);
      memory.copy(keptGreen, pickedGreen, size);
      memory.copy(keptBlue, pickedBlue, size);
    }
    if (kind == 1) gain(n, load<f32>(p + 4));
    else if (kind == 2)
      turn(
        n,
        load<f32>(p + 4),
        load<f32>(p + 8),
        load<f32>(p + 12),
        <u32>load<f32>(p + 16),
        load<f32>(p + 20),
        load<f32>(p + 24),
      );
    else if (kind == 3)
      for (let k: usize = 0; k < 3; k++)
        power(
          k == 0 ? pickedRed : k == 1 ? pickedGreen : pickedBlue,
          n,
          load<f32>(p + 4),
          load<f32>(p + 8),
          load<f32>(p + 12),
          load<f32>(p + 16),
          load<f32>(p + 20),
        );
    else if (kind == 4) matrix(n, p + 4);
    else if (kind == 5) slopes(n, p + 4, load<f32>(p + 40));
    else if (kind == 6) ranges(n, p + 4);
    if (limited) {
      limit(n, p + 68);
      mixShares(keptRed, pickedRed, size, amount);
      mixShares(keptGreen, pickedGreen, size, amount);
      mixShares(keptBlue, pickedBlue, size, amount);
    } else if (amount < 1) {
      mix(keptRed, pickedRed, size, amount);
      mix(keptGreen, pickedGreen, size, amount);
      mix(keptBlue, pickedBlue, size, amount);
    }
  }
  for (let i: u32 = 0; i < n; i++) {
    const k = (<usize>load<u16>(place + 2 * i)) << 2;
    const c = min<f32>(1, load<f32>(cover + k));
    const rest: f32 = 1 - c;
    // Not v + (s - v) * c: where c is 1, exactly the corrected value must come out.
    if (rest == 0) {
      store<f32>(red + k, load<f32>(pickedRed + 4 * i));
      store<f32>(green + k, load<f32>(pickedGreen + 4 * i));
      store<f32>(blue + k, load<f32>(pickedBlue + 4 * i));
    } else {
      store<f32>(red + k, load<f32>(red + k) * rest + load<f32>(pickedRed + 4 * i) * c);
      store<f32>(green + k, load<f32>(green + k) * rest + load<f32>(pickedGreen + 4 * i) * c);
      store<f32>(blue + k, load<f32>(blue + k) * rest + load<f32>(pickedBlue + 4 * i) * c);
    }
  }
}

function indices(p: usize, by: v128): v128 {
  // Not a number becomes the lowest.
  const v = f32x4.pmin(
    f32x4.pmax(f32x4.splat(<f32>6.103515625e-5), f32x4.mul(v128.load(p), by)),
    f32x4.splat(<f32>15.999999),
  );
  return i32x4.sub(i32x4.shr_u(v, 13), i32x4.splat(0x38800000 >> 13));
}
function pixel(r: i32, g: i32, b: i32): u32 {
  return (
    <u32>load<u8>(table + r) |
    ((<u32>load<u8>(table + g)) << 8) |
    ((<u32>load<u8>(table + b)) << 16) |
    0xff000000
  );
}

/** All of the tile through a 3x3 matrix at `program`, row by row, for looking at. */
export function recolour(): void {
  const p = program;
  for (let o: usize = 0; o < PLANE; o += 16) {
    const x = v128.load(red + o);
    const y = v128.load(green + o);
    const z = v128.load(blue + o);
    v128.store(red + o, sum3(load<f32>(p), x, load<f32>(p, 4), y, load<f32>(p, 8), z));
    v128.store(green + o, sum3(load<f32>(p, 12), x, load<f32>(p, 16), y, load<f32>(p, 20), z));
    v128.store(blue + o, sum3(load<f32>(p, 24), x, load<f32>(p, 28), y, load<f32>(p, 32), z));
  }
}

/** Writes the tile as bytes, `by` times as bright. */
export function show(by: f32): void {
  const g = f32x4.splat(by);
  for (let o: usize = 0; o < PLANE; o += 16) {
    const x = indices(red + o, g);
    const y = indices(green + o, g);
    const z = indices(blue + o, g);
    const out = bytes + o;
    store<u32>(out, pixel(i32x4.extract_lane(x, 0), i32x4.extract_lane(y, 0), i32x4.extract_lane(z, 0)));
    store<u32>(out, pixel(i32x4.extract_lane(x, 1), i32x4.extract_lane(y, 1), i32x4.extract_lane(z, 1)), 4);
    store<u32>(out, pixel(i32x4.extract_lane(x, 2), i32x4.extract_lane(y, 2), i32x4.extract_lane(z, 2)), 8);
    store<u32>(out, pixel(i32x4.extract_lane(x, 3), i32x4.extract_lane(y, 3), i32x4.extract_lane(z, 3)), 12);
  }
}

/** Mean of four pixels' bytes, each rounded. */
function mean(a: u32, b: u32, c: u32, d: u32): u32 {
  const m: u32 = 0x00ff00ff;
  const even = (((a & m) + (b & m) + (c & m) + (d & m) + 0x00020002) >> 2) & m;
  const odd = ((((a >> 8) & m) + ((b >> 8) & m) + ((c >> 8) & m) + ((d >> 8) & m) + 0x00020002) >> 2) & m;
  return even | (odd << 8);
}

/**
 * Brings the bytes to half their side, in place, so many times. Only `width` by `height` pixels belong to the picture:
 * the last of them stand in for what is beyond.
 */
export function halve(times: u32, width: u32, height: u32): void {
  for (let side: u32 = 64; times > 0; times--, side >>= 1) {
    const half = side >> 1;
    const right = width - 1;
    const bottom = height - 1;
    width = (width + 1) >> 1;
    height = (height + 1) >> 1;
    for (let y: u32 = 0; y < height; y++) {
      const upper = bytes + 4 * <usize>(2 * y * side);
      const lower = bytes + 4 * <usize>(min(2 * y + 1, bottom) * side);
      for (let x: u32 = 0; x < width; x++) {
        const left = 8 * <usize>x;
        const next = 4 * <usize>min(2 * x + 1, right);
        store<u32>(
          bytes + 4 * <usize>(y * half + x),
          mean(
            load<u32>(upper + left),
            load<u32>(upper + next),
            load<u32>(lower + left),
            load<u32>(lower + next),
          ),
        );
      }
    }
  }
}
