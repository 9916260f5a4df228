/** The beam of all rays that a camera at one point sends through some pixels: four planes through the camera's point. */
import { Lane, Scene } from './layout';
import { lane, laneInt, laneNumber, sceneInt } from './memory';

/** Pixels by which beams are wider than the filter, for the rounding of 32 bits. */
const WIDER: f64 = 0.02;

/** The camera's point. */
export let eyeX: f32 = 0;
export let eyeY: f32 = 0;
export let eyeZ: f32 = 0;

/** Takes the camera's point from the scene. */
export function setEye(): void {
  eyeX = <f32>m(12);
  eyeY = <f32>m(13);
  eyeZ = <f32>m(14);
}

/** Normals of the beam's planes, which point inwards, and its borders at distance one. */
export let p0x: f32 = 0;
export let p0y: f32 = 0;
export let p0z: f32 = 0;
export let p1x: f32 = 0;
export let p1y: f32 = 0;
export let p1z: f32 = 0;
export let p2x: f32 = 0;
export let p2y: f32 = 0;
export let p2z: f32 = 0;
export let p3x: f32 = 0;
export let p3y: f32 = 0;
export let p3z: f32 = 0;
export let left: f64 = 0;
export let right: f64 = 0;
export let top: f64 = 0;
export let bottom: f64 = 0;

/** An element of the camera's matrix. */
// inline
export function m(k: i32): f64 {
  return load<f64>(<usize>sceneInt(Scene.camera) + 8 * k);
}

/** The planes around the rays of an area, a filter's width further out. */
export function setBeam(x0: i32, y0: i32, x1: i32, y1: i32): void {
  // Sample positions start at the middle of a pixel.
  const out = <f64>laneNumber(Lane.filterRadius) + WIDER - 0.5;
  const width = <f64>laneInt(Lane.width);
  const height = <f64>laneInt(Lane.height);
  const wide = load<f64>(lane + 4 * Lane.wide);
  const tall = load<f64>(lane + 4 * Lane.tall);
  left = (((<f64>x0 - out) / width) * 2 - 1) * wide;
  right = (((<f64>x1 + out) / width) * 2 - 1) * wide;
  top = (1 - ((<f64>y0 - out) / height) * 2) * tall;
  bottom = (1 - ((<f64>y1 + out) / height) * 2) * tall;
  const ax = m(1) * m(6) - m(2) * m(5);
  const ay = m(2) * m(4) - m(0) * m(6);
  const az = m(0) * m(5) - m(1) * m(4);
  const bx = m(5) * m(10) - m(6) * m(9);
  const by = m(6) * m(8) - m(4) * m(10);
  const bz = m(4) * m(9) - m(5) * m(8);
  const cx = m(9) * m(2) - m(10) * m(1);
  const cy = m(10) * m(0) - m(8) * m(2);
  const cz = m(8) * m(1) - m(9) * m(0);
  const side: f64 = ax * m(8) + ay * m(9) + az * m(10) < 0 ? -1 : 1;
  p0x = <f32>(side * (left * ax + bx));
  p0y = <f32>(side * (left * ay + by));
  p0z = <f32>(side * (left * az + bz));
  p1x = <f32>(-side * (right * ax + bx));
  p1y = <f32>(-side * (right * ay + by));
  p1z = <f32>(-side * (right * az + bz));
  p2x = <f32>(side * (bottom * ax + cx));
  p2y = <f32>(side * (bottom * ay + cy));
  p2z = <f32>(side * (bottom * az + cz));
  p3x = <f32>(-side * (top * ax + cx));
  p3y = <f32>(-side * (top * ay + cy));
  p3z = <f32>(-side * (top * az + cz));
}
