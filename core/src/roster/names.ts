import type { WhoValue } from '../fields/field.ts';

/** What a scene's things are called, numbered and hidden from. It never changes the scene's file. */
export interface SceneNames {
  /** By path in the scene: objects and, for numbers that they hand down, groups. */
  objects: Record<string, ObjectSheet>;
  /** By name in the scene. */
  materials: Record<string, MaterialSheet>;
  rules: NumberRule[];
}

export interface ObjectSheet {
  /** What it is called in masks and manifests. */
  name?: string;
  /** ID number; 0 takes away what a group hands down. */
  number?: number;
  /** What it is hidden from. */
  hidden?: HiddenFrom[];
  /** Paths of objects in whose reflections it is not seen. */
  notSeenIn?: string[];
}
export type HiddenFrom = 'camera' | 'reflections' | 'refraction' | 'shadows';

export interface MaterialSheet {
  name?: string;
  number?: number;
}

/** Gives numbers to everything whose name a glob matches and that has none of its own. */
export interface NumberRule {
  what: 'objects' | 'materials';
  pattern: string;
  number: number;
  /** Each further match gets the next number. */
  countUp: boolean;
}

/** Who a buffer or a slot of a puzzle matte shows. */
export type Who = WhoValue;
