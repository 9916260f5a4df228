/** One part of a scene, ready to be drawn: plain triangles, three vertices each. */
export interface ShownPart {
  object: number;
  material: number;
  positions: Float32Array;
  normals: Float32Array;
  /** Linear colour of each vertex, the material's included. */
  colours: Float32Array;
  transparent: boolean;
}

export interface ShownScene {
  /** Paths of the objects and names of the materials, as in the scene's file. */
  objects: string[];
  materials: string[];
  parts: ShownPart[];
  /** Column-major camera to world, and vertical field of view in radians (0: parallel, with half height). */
  camera: { matrix: number[]; yfov: number; yHalf: number };
}
