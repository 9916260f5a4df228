import type { Texture } from './texture.ts';

/** Linear Rec. 709 colour or radiance. */
export type Rgb = readonly [number, number, number];

/** A texture as a material uses it: which one, how its coordinates are moved, and for normals how strong. */
export interface TextureUse {
  texture: Texture;
  /** 0 or 1: the set of texture coordinates. */
  set: 0 | 1;
  /** Row-major 2x3 of KHR_texture_transform: u' = a u + b v + c, v' = d u + e v + f. */
  transform: readonly [number, number, number, number, number, number];
}

/**
 * How a surface scatters light: glTF's metallic-roughness model with transmission. Metalness and transmission mix
 * three ways of scattering: an opaque base under a clear coat, a metal, and glass.
 */
export interface SceneMaterial {
  name: string;
  colour: Rgb;
  colourMap?: TextureUse;
  /** 0 to 1; multiplied with the map's blue. */
  metalness: number;
  /** Perceptual roughness 0 to 1 as in glTF; its square is the GGX alpha. Multiplied with the map's green. */
  roughness: number;
  surfaceMap?: TextureUse;
  normalMap?: TextureUse & { scale: number };
  emission: Rgb;
  emissionMap?: TextureUse;
  /** Share of light that is not reflected and passes through, 0 to 1. */
  transmission: number;
  ior: number;
  /** Absorption per unit of length inside, or undefined for a thin wall without an inside. */
  absorption?: Rgb;
  /** `mask` cuts where alpha is below `cutoff`; `blend` lets the share 1 - alpha of rays pass. */
  alphaMode: 'opaque' | 'mask' | 'blend';
  alpha: number;
  cutoff: number;
  /** Shows its colour without any light. */
  unlit: boolean;
}

/** A material with everything at its plainest. */
export const PLAIN_MATERIAL: SceneMaterial = {
  name: 'unnamed',
  colour: [0.8, 0.8, 0.8],
  metalness: 0,
  roughness: 1,
  emission: [0, 0, 0],
  transmission: 0,
  ior: 1.5,
  alphaMode: 'opaque',
  alpha: 1,
  cutoff: 0.5,
  unlit: false,
};

export interface SceneObject {
  /** Path of names from the root, joined by `/`. Unique; never changes, whatever the object is called. */
  path: string;
  /** What it is called in manifests; the path unless a plan says otherwise. */
  name: string;
  /** Bits of `RAY` that see it; all by default. */
  visible?: number;
  /** Objects in whose reflections it is not seen. */
  notSeenIn?: number[];
}

/** Triangles of one object with one material: the finest thing that an ID pass can tell apart. */
export interface Part {
  object: number;
  material: number;
  /**
   * How it takes part in a picture of only some members: `away` is not seen by the camera, `held` still covers what
   * is behind it but is cut out itself, `catcher` gives only its shadow and reflection.
   */
  role?: 'shown' | 'away' | 'held' | 'catcher';
}

/** World-space triangles with what is needed to shade them and to tell them apart. */
export interface Scene {
  /** x, y, z for each vertex, at the time the shutter opens. */
  positions: Float32Array;
  /** The same when it closes; the very same array for a scene at rest. */
  positionsEnd: Float32Array;
  /** 0, 0, 0 where the triangle's own normal is to be used. */
  normals: Float32Array;
  /** Linear colour for each vertex, multiplied with the material's. */
  colours: Float32Array;
  /** Two sets of texture coordinates, u0, v0, u1, v1 for each vertex; empty if no material has a texture. */
  uvs: Float32Array;
  /** Three vertices a triangle. */
  indices: Uint32Array;
  /** Triangles from here on move while the shutter is open. */
  firstMoving: number;
  trianglePart: Uint32Array;
  parts: Part[];
  objects: SceneObject[];
  materials: SceneMaterial[];
  camera: Camera;
  suns: Sun[];
  lamps: Lamp[];
  sky: Sky;
  /** Light from all around by a picture; replaces the sky. */
  surroundings?: Surroundings;
  /** Time from `positions` to `positionsEnd`, in frames. */
  span: number;
  /** Share of the span in which the shutter is open: 0 for a frozen moment. */
  shutter: number;
}

export interface Camera {
  /** Camera to world, column-major as in glTF; the camera looks along its -z. */
  matrix: Float64Array;
  matrixEnd: Float64Array;
  /** Vertical field of view in radians; 0 for a parallel projection. */
  yfov: number;
  /** Half the height of what a parallel projection sees. */
  yHalf: number;
  /** Radius of a thin lens in scene units, 0 for a pinhole. */
  lensRadius: number;
  /** Distance of sharp focus along the axis, in scene units. */
  focus: number;
}

export interface Sun {
  /** Path of its node. */
  name: string;
  /** Unit vector towards the sun. */
  direction: Rgb;
  /** Irradiance on a surface that faces the sun. */
  irradiance: Rgb;
  /** Half the angle under which its disc is seen, in radians. */
  angularRadius: number;
}

/** A lamp at a point: KHR_lights_punctual `point` and `spot`. */
export interface Lamp {
  /** Path of its node. */
  name: string;
  position: Rgb;
  /** Unit vector in which a spot shines; without meaning for a point light. */
  direction: Rgb;
  /** Radiant intensity. */
  intensity: Rgb;
  /** Cosines of the half angles between which a spot fades out; both -1 for a point light. */
  innerCosine: number;
  outerCosine: number;
}

/** A sky that blends from horizon to zenith, with an optional soft glow, and a ground below. */
export interface Sky {
  zenith: Rgb;
  horizon: Rgb;
  ground: Rgb;
  glow?: { direction: Rgb; radiance: Rgb; sharpness: number };
}

/** A picture of radiance in latitude and longitude: its middle lies in direction -z, its top at +y. */
export interface Surroundings {
  width: number;
  height: number;
  /** r, g, b a pixel. */
  data: Float32Array;
  /** Turn about y in radians. */
  turn: number;
  gain: number;
}

export const DEFAULT_SKY: Sky = {
  zenith: [0.35, 0.5, 0.8],
  horizon: [0.8, 0.85, 0.9],
  ground: [0.2, 0.19, 0.17],
};
