/** Linear Rec. 709 colour or radiance. */
export type Rgb = readonly [number, number, number];

/**
 * How a surface scatters light. `opaque`: a diffuse base under a clear rough coat; `metal`: a rough mirror in the
 * metal's colour; `glass`: a smooth clear dielectric.
 */
export interface SceneMaterial {
  name: string;
  kind: 'opaque' | 'metal' | 'glass';
  colour: Rgb;
  /** Perceptual roughness 0 to 1 as in glTF; its square is the GGX alpha. */
  roughness: number;
  ior: number;
  /** Glass only: absorption per unit of length inside, or undefined for a thin wall without an inside. */
  absorption?: Rgb;
}

export interface SceneObject {
  /** Path of names from the root, joined by `/`. Unique. */
  name: string;
}

/** World-space triangles with what is needed to shade them and to tell them apart. */
export interface Scene {
  /** x, y, z for each vertex. */
  positions: Float32Array;
  normals: Float32Array;
  /** Linear colour for each vertex, multiplied with the material's. */
  colours: Float32Array;
  /** Three vertices a triangle. */
  indices: Uint32Array;
  /** Object and material of each triangle. */
  triangleObject: Uint32Array;
  triangleMaterial: Uint32Array;
  objects: SceneObject[];
  materials: SceneMaterial[];
  camera: Camera;
  sun?: Sun;
  sky: Sky;
}

export interface Camera {
  /** Camera to world, column-major as in glTF; the camera looks along its -z. */
  matrix: Float64Array;
  /** Vertical field of view in radians. */
  yfov: number;
}

export interface Sun {
  /** Unit vector towards the sun. */
  direction: Rgb;
  /** Irradiance on a surface that faces the sun. */
  irradiance: Rgb;
  /** Half the angle under which its disc is seen, in radians. */
  angularRadius: number;
}

/** A sky that blends from horizon to zenith, with an optional soft glow, and a ground below. */
export interface Sky {
  zenith: Rgb;
  horizon: Rgb;
  ground: Rgb;
  glow?: { direction: Rgb; radiance: Rgb; sharpness: number };
}

export const DEFAULT_SKY: Sky = {
  zenith: [0.35, 0.5, 0.8],
  horizon: [0.8, 0.85, 0.9],
  ground: [0.2, 0.19, 0.17],
};
