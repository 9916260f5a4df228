import type { Texture } from '@zesty-crow/core/scene';

/** One part of a scene, ready to be drawn: plain triangles, three vertices each. */
export interface ShownPart {
  object: number;
  material: number;
  positions: Float32Array;
  normals: Float32Array;
  /** Linear colour of each vertex, the material's included. */
  colours: Float32Array;
  transparent: boolean;
  /** Coordinates in its picture, u and v downwards for each vertex, and which picture: an index of `textures`. */
  uvs?: Float32Array;
  texture?: number;
  /** Alpha below which nothing is drawn; 0 draws everything. */
  cutoff: number;
}

export interface ShownScene {
  /** Paths of the objects and names of the materials, as in the scene's file. */
  objects: string[];
  materials: string[];
  parts: ShownPart[];
  /** Pictures of base colour. */
  textures: Texture[];
  /** Column-major camera to world, and vertical field of view in radians (0: parallel, with half height). */
  camera: { matrix: number[]; yfov: number; yHalf: number };
}
