/**
 * Where things stand in the memory of the ray kernel: read by the kernel and by the page or thread that fills it, so
 * this file is plain enough for both languages. All places are counted in numbers of four bytes.
 */

/** Paths that are followed side by side: all their arrays together stay in a core's own cache. */
export const WAVE = 1024;

/** Bytes of one node with four children: boxes, children, and for things in motion how the boxes move. */
export const NODE_BYTES = 128;
export const MOVING_NODE_BYTES = 224;
/** Bytes of four triangles: corner and two edges, numbers in the mesh, and for things in motion how they move. */
export const PACKET_BYTES = 160;
export const MOVING_PACKET_BYTES = 304;

/** Table of the scene: addresses of its arrays, and numbers. */
export enum Scene {
  nodes,
  packets,
  movingNodes,
  movingPackets,
  /** Three vertices a triangle. */
  indices,
  trianglePart,
  parts,
  materials,
  textures,
  /** Three floats a vertex; colours and uvs are 0 where there are none. */
  normals,
  colours,
  uvs,
  /** For each object the address of a row that says what must not be seen in it, or 0. */
  doors,
  /** True if every kind of ray sees every triangle. */
  allSeen,
  suns,
  sunCount,
  lamps,
  lampCount,
  shining,
  /** Sums of the power of lamps and shining triangles (64 bits each), and how many there are. */
  powers,
  powerCount,
  /** For each triangle its density as a light, or 0 where nothing shines. */
  densities,
  /** Sky: zenith, horizon, ground, glow's direction, glow's radiance, sharpness (negative without a glow). */
  sky,
  /** Picture all around: r, g, b; rows' and columns' sums (64 bits). 0 without one. */
  around,
  aroundRows,
  aroundColumns,
  aroundWidth,
  aroundHeight,
  aroundTurn,
  aroundGain,
  /** Camera: two matrices of 16 floats of 64 bits. */
  camera,
  cameraMoves,
  cameraParallel,
  lensRadius,
  focus,
  shutter,
  count,
}

/** One part of the scene: an object's triangles of one material. */
export enum Part {
  object,
  material,
  role,
  /** Bits of the kinds of rays that see it. */
  visible,
  /** Share of light that passes in shadows; the first is negative where a texture decides. */
  tint,
  count = 8,
}
export enum Role {
  shown,
  away,
  held,
  catcher,
}

export enum Material {
  colour,
  metalness = 3,
  roughness,
  ior,
  emission,
  transmission = 9,
  absorption,
  /** 1 if light is absorbed inside. */
  absorbs = 13,
  alphaMode,
  alpha,
  cutoff,
  unlit,
  colourMap,
  surfaceMap = 28,
  normalMap = 38,
  emissionMap = 48,
  count = 64,
}
export enum Alpha {
  opaque,
  mask,
  blend,
}
/** How a material uses a texture: address of the texture or 0, set of coordinates, two rows, strength of a normal. */
export enum Use {
  texture,
  set,
  rows,
  scale = 8,
}
export enum Texture {
  data,
  width,
  height,
  wrapS,
  wrapT,
  count = 8,
}
export enum Wrap {
  repeat,
  mirror,
  clamp,
}

export enum Sun {
  direction,
  irradiance = 3,
  radiance = 6,
  /** Of half the angle of its disc. */
  cosine = 9,
  count,
}
export enum Lamp {
  position,
  direction = 3,
  intensity = 6,
  innerCosine = 9,
  outerCosine,
  count = 12,
}
/** A triangle that shines: corner, edges, and how they move until the shutter closes. */
export enum Shining {
  corner,
  motion = 9,
  triangle = 18,
  count = 20,
}
export enum Sky {
  zenith,
  horizon = 3,
  ground = 6,
  direction = 9,
  radiance = 12,
  sharpness = 15,
  count,
}

/** Table of one thread: what is rendered, and where its own arrays stand. */
export enum Lane {
  width,
  height,
  /** Half the picture's width and height at distance one, 64 bits each. */
  wide,
  tall = 4,
  seed = 6,
  bounces,
  light,
  /** True if the light is kept apart by its ways. */
  parts,
  sources,
  surface,
  shadow,
  occlusion,
  /** Layers of what is seen through glass and in mirrors, and the deepest of them. */
  layers,
  deepest,
  /** A layer's way, depth and roughness, for most LAYERS of them. */
  layerTable,
  /** Filter's radius in pixels, then its table of offsets. */
  filterRadius = 112,
  filter,
  rowBytes,
  rows,
  sights,
  stack,
  reach,
  count,
}
export const LAYERS = 32;
/** Steps of a filter's table; it has two entries more. */
export const FILTER_STEPS = 4096;

/** Kinds of rays, as bits: what a thing can be hidden from. */
export enum Ray {
  camera = 1,
  reflection = 2,
  refraction = 4,
  shadow = 8,
  bounce = 16,
}

/** Ways of the light, as in render/gather.ts. */
export enum Way {
  background,
  emission,
  diffuseDirect,
  diffuseIndirect,
  specularDirect,
  specularIndirect,
  reflection,
  refraction,
}
/** What a path is looking along: nothing recognisable yet, through glass, in a mirror, or no more. */
export enum Chain {
  none,
  refraction,
  reflection,
  over,
}
export enum Scatter {
  opaque,
  metal,
  glass,
}
export enum Lobe {
  diffuse,
  reflect,
  through,
}
/** Sources of light that every scene has. */
export enum Source {
  sky,
  shining,
  first,
}

/** Arrays of a wave: one number for each path, WAVE of them, unless another number is said. */
export enum Field {
  x,
  y,
  sample,
  pixelSeed,
  index,
  time,
  originX,
  originY,
  originZ,
  directionX,
  directionY,
  directionZ,
  t,
  u,
  v,
  /** Triangle in the mesh, -1 for none, and its place in the packets. */
  triangle,
  place,
  kind,
  mirror,
  rough,
  mirrored,
  density,
  weightR,
  weightG,
  weightB,
  way,
  sourceWay,
  chain,
  chainRough,
  chainObject,
  chainDepth,
  /** Of the surface that was met: point, normals, colour. */
  pointX,
  pointY,
  pointZ,
  normalX,
  normalY,
  normalZ,
  flatX,
  flatY,
  flatZ,
  red,
  green,
  blue,
  roughness,
  metalness,
  outside,
  scatter,
  /** Results: what was seen first (-1 for nothing), whether it only catches, and what the first surface tells. */
  seen,
  catches,
  unshadowed,
  lit,
  open,
  firstDepth,
  firstNormalX,
  firstNormalY,
  firstNormalZ,
  firstX,
  firstY,
  firstZ,
  firstRed,
  firstGreen,
  firstBlue,
  movedX,
  movedY,
  movedZ,
  /** Paths that go on, and for each of them two pairs of random numbers. */
  active,
  randomX,
  randomY,
  secondX,
  secondY,
  /** Rays towards light: for each its path, direction, reach, source, and what arrives if nothing is in its way. */
  shadowPath,
  shadowX,
  shadowY,
  shadowZ,
  shadowReach,
  shadowSource,
  diffuseR,
  diffuseG,
  diffuseB,
  reflectedR,
  reflectedG,
  reflectedB,
  /** What passes. */
  passR,
  passG,
  passB,
  count,
}
