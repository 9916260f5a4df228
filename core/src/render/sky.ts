import type { Sky, Sun } from '../scene/scene.ts';

/** Adds the radiance that comes from direction (x, y, z), times `w`, to `out`. */
export function addSky(sky: Sky, x: number, y: number, z: number, w: Float64Array, out: Float64Array): void {
  const up = Math.max(0, y);
  // Smooth through the horizon, so that mirrors do not show a hard line.
  const above = Math.min(1, Math.max(0, y * 8 + 0.5));
  const blend = Math.sqrt(up);
  const { zenith, horizon, ground, glow } = sky;
  const lobe = glow
    ? Math.exp(glow.sharpness * (x * glow.direction[0] + y * glow.direction[1] + z * glow.direction[2] - 1))
    : 0;
  for (let k = 0; k < 3; k++) {
    const dome = horizon[k]! + (zenith[k]! - horizon[k]!) * blend;
    const light = ground[k]! + (dome - ground[k]!) * above + (glow ? glow.radiance[k]! * lobe : 0);
    out[k]! += w[k]! * light;
  }
}

/** Radiance of the sun's disc; its irradiance spread over its solid angle. */
export function sunRadiance(sun: Sun): [number, number, number] {
  const solidAngle = 2 * Math.PI * (1 - Math.cos(sun.angularRadius));
  return [sun.irradiance[0] / solidAngle, sun.irradiance[1] / solidAngle, sun.irradiance[2] / solidAngle];
}
