/** One through-glass ID layer: what is seen behind something transparent, or in something mirroring. */
export interface ThroughSpec {
  way: 'refraction' | 'reflection';
  /** 1: the first other thing seen behind the surface; 2: the thing behind that, and so on. */
  depth: number;
  /** Surfaces rougher than this show nothing that could be isolated. 0 to 1. */
  roughness: number;
}

/** What is gathered from the samples besides the beauty. */
export interface Gather {
  /** Coverage of every part, from which all direct ID passes are made. */
  ids: boolean;
  /** The light apart by its way, see LIGHT. */
  lightParts: boolean;
  /** The light apart by where it comes from, see {@link sourcesOf}. */
  lamps: boolean;
  /** Depth, normal, position, motion and base colour of what the camera sees. */
  surface: boolean;
  shadow: boolean;
  /** Distance in scene units up to which things occlude; 0 for no ambient occlusion. */
  occlusion: number;
  through: ThroughSpec[];
}

export const GATHER_IDS: Gather = {
  ids: true,
  lightParts: false,
  lamps: false,
  surface: false,
  shadow: false,
  occlusion: 0,
  through: [],
};

/**
 * The ways of light from its source to the camera, told by what it did at the first surface that the camera sees.
 * Every contribution of every path belongs to exactly one, so they add up to the beauty.
 */
export const LIGHT = {
  background: 0,
  emission: 1,
  diffuseDirect: 2,
  diffuseIndirect: 3,
  specularDirect: 4,
  specularIndirect: 5,
  reflection: 6,
  refraction: 7,
} as const;
export type LightPart = keyof typeof LIGHT;
export const LIGHT_PARTS = Object.keys(LIGHT) as LightPart[];

/** Reflections on surfaces up to this roughness show things that can be recognised and count as `reflection`. */
export const MIRROR_ROUGHNESS = 0.3;

/** Places of the surface's data among its planes. */
export const SURFACE = {
  depth: 0,
  normal: 1,
  position: 4,
  base: 7,
  motion: 10,
  count: 12,
} as const;
