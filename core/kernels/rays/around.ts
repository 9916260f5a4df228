/** Light from all around: a sky, or a picture of light that is chosen from where it is bright. */
import { Scene, Sky } from './layout';
import { sceneInt, sceneNumber } from './memory';
import { cosine, sine, turn } from './arithmetic';

/** The last radiance, or the last choice: direction, light divided by its density, density over solid angle. */
export let skyR: f32 = 0;
export let skyG: f32 = 0;
export let skyB: f32 = 0;
export let skyX: f32 = 0;
export let skyY: f32 = 0;
export let skyZ: f32 = 0;
export let skyDensity: f32 = 0;

const PI: f64 = 3.141592653589793;

// inline
function part(sky: usize, slot: i32): f32 {
  return load<f32>(sky + 4 * slot);
}

/** Radiance from a direction. */
export function skyAt(x: f32, y: f32, z: f32): void {
  const picture: usize = sceneInt(Scene.around);
  if (picture) {
    const texel = picture + 12 * pixelOf(x, y, z);
    const gain = sceneNumber(Scene.aroundGain);
    skyR = load<f32>(texel) * gain;
    skyG = load<f32>(texel + 4) * gain;
    skyB = load<f32>(texel + 8) * gain;
    return;
  }
  const sky: usize = sceneInt(Scene.sky);
  // Smooth through the horizon, so that mirrors do not show a hard line.
  const above: f32 = min<f32>(1, max<f32>(0, y * 8 + 0.5));
  const blend = sqrt<f32>(max<f32>(0, y));
  const sharpness = part(sky, Sky.sharpness);
  const d = sky + 4 * Sky.direction;
  const glow: f32 =
    sharpness >= 0
      ? Mathf.exp(sharpness * (x * load<f32>(d) + y * load<f32>(d + 4) + z * load<f32>(d + 8) - 1))
      : 0;
  skyR = channel(sky, blend, above, glow);
  skyG = channel(sky + 4, blend, above, glow);
  skyB = channel(sky + 8, blend, above, glow);
}

// inline
function channel(sky: usize, blend: f32, above: f32, glow: f32): f32 {
  const horizon = part(sky, Sky.horizon);
  const ground = part(sky, Sky.ground);
  const dome = horizon + (part(sky, Sky.zenith) - horizon) * blend;
  return ground + (dome - ground) * above + part(sky, Sky.radiance) * glow;
}

function pixelOf(x: f32, y: f32, z: f32): i32 {
  const width = sceneInt(Scene.aroundWidth);
  const height = sceneInt(Scene.aroundHeight);
  const share = (NativeMath.atan2(x, -z) - <f64>sceneNumber(Scene.aroundTurn)) / (2 * PI) + 0.5;
  const px = min<i32>(width - 1, <i32>floor<f64>((share - floor<f64>(share)) * width));
  const py = min<i32>(
    height - 1,
    <i32>floor<f64>((NativeMath.acos(max<f64>(-1, min<f64>(1, y))) / PI) * height),
  );
  return py * width + px;
}

// inline
function sum(sums: usize, i: i32): f64 {
  return load<f64>(sums + 8 * i);
}
// inline
function columnsOf(row: i32): usize {
  return sceneInt(Scene.aroundColumns) + 8 * (sceneInt(Scene.aroundWidth) + 1) * row;
}

function solidAngle(row: i32): f64 {
  const height = sceneInt(Scene.aroundHeight);
  const a = NativeMath.cos((PI * row) / height) - NativeMath.cos((PI * (row + 1)) / height);
  return (a * 2 * PI) / sceneInt(Scene.aroundWidth);
}

/** Density over solid angle with which {@link sampleSky} chooses a direction; 0 for a sky, which is not sampled. */
export function densityOfSky(x: f32, y: f32, z: f32): f32 {
  if (!sceneInt(Scene.around)) return 0;
  const width = sceneInt(Scene.aroundWidth);
  const pixel = pixelOf(x, y, z);
  const row = pixel / width;
  const column = pixel % width;
  const sums = columnsOf(row);
  const share =
    (sum(sums, column + 1) - sum(sums, column)) /
    sum(sceneInt(Scene.aroundRows), sceneInt(Scene.aroundHeight));
  return <f32>(share / solidAngle(row));
}

/** Number of the entry that a value falls to: sums[i] <= value < sums[i + 1]. */
export function choose(sums: usize, count: i32, value: f64): i32 {
  let low = 0;
  let high = count;
  while (high - low > 1) {
    const middle = (low + high) >> 1;
    if (sum(sums, middle) <= value) low = middle;
    else high = middle;
  }
  return low;
}

// inline
function within(v: f64): f64 {
  return min<f64>(0.9999, max<f64>(0.0001, v));
}

/** Chooses a direction of a picture by its light. */
export function sampleSky(u1: f32, u2: f32): void {
  const width = sceneInt(Scene.aroundWidth);
  const height = sceneInt(Scene.aroundHeight);
  const rows: usize = sceneInt(Scene.aroundRows);
  const total = sum(rows, height);
  const wanted = <f64>u1 * total;
  const py = choose(rows, height, wanted);
  const sums = columnsOf(py);
  const across = sum(sums, width);
  const wantedX = min<f64>(u2, 0.999999) * across;
  const px = choose(sums, width, wantedX);
  const share = (sum(sums, px + 1) - sum(sums, px)) / total;
  // A point within the pixel, even over its solid angle, from what is left of the random numbers.
  const inRow = (wanted - sum(rows, py)) / (sum(rows, py + 1) - sum(rows, py));
  const inColumn = (<f64>u2 * across - sum(sums, px)) / (sum(sums, px + 1) - sum(sums, px));
  const top = NativeMath.cos((PI * py) / height);
  const bottom = NativeMath.cos((PI * (py + 1)) / height);
  const y = top + (bottom - top) * within(inRow);
  let share1 = (px + within(inColumn)) / width - 0.5 + <f64>sceneNumber(Scene.aroundTurn) / (2 * PI);
  share1 -= floor<f64>(share1);
  turn(<f32>share1);
  const r = <f32>sqrt<f64>(max<f64>(0, 1 - y * y));
  skyX = r * sine;
  skyY = <f32>y;
  skyZ = -r * cosine;
  const chosen = share / solidAngle(py);
  skyDensity = <f32>chosen;
  const gain = <f32>(<f64>sceneNumber(Scene.aroundGain) / chosen);
  const texel: usize = sceneInt(Scene.around) + 12 * (py * width + px);
  skyR = load<f32>(texel) * gain;
  skyG = load<f32>(texel + 4) * gain;
  skyB = load<f32>(texel + 8) * gain;
}
