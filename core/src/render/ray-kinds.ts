/** Kinds of rays, as bits: what an object can be hidden from. */
export const RAY = { camera: 1, reflection: 2, refraction: 4, shadow: 8, bounce: 16 } as const;

export const ALL_RAYS = RAY.camera | RAY.reflection | RAY.refraction | RAY.shadow | RAY.bounce;
