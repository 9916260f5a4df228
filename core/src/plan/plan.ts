import type { MemberPick } from '../picks/member-pick.ts';
import type { PixelFilter } from '../render/pixel-filter.ts';
import type { SceneNames } from '../roster/names.ts';

/**
 * An ID plan: what a scene's things are called and numbered, what the client might ask for, which passes to render
 * and where they go. It never changes the scene's file.
 */
export interface Plan extends SceneNames {
  format: 'zesty-crow/plan';
  version: 2;
  wishes: Wish[];
  passes: PassUse[];
  output: Output;
  render: RenderPlan;
}

/** What the client might ask for. */
export interface Wish {
  id: string;
  words: string;
  /** Layers here are `objects`, `materials` and `groups`. */
  who: MemberPick[];
  /** It matters in mirrors and through glass, too. */
  throughGlass: boolean;
  /** Where its members are, samples are taken first. */
  first?: boolean;
}

/** One pass of the plan. */
export interface PassUse {
  id: string;
  kind: string;
  on: boolean;
  /** Samples of data passes; IDs are always float. */
  depth: 'half' | 'float';
  values: Record<string, unknown>;
}

export interface Output {
  /** File name with placeholders, see `naming.ts`. */
  pattern: string;
  /** ID passes go into a file of their own. */
  idsApart: boolean;
  compression: string;
}

/** What ends a render: little enough noise, a time, or a number of samples. */
export const DONE_WHEN = ['clean', 'time', 'samples'] as const;
export type DoneWhen = (typeof DONE_WHEN)[number];

export interface RenderPlan {
  width: number;
  height: number;
  doneWhen: DoneWhen;
  /** Samples a pixel; the most of them where the render ends when it is clean. */
  samples: number;
  /** Relative noise that counts as clean, see `judge`. */
  noise: number;
  /** Minutes a frame, where the render ends after a time. */
  minutes: number;
  bounces: number;
  filter: PixelFilter;
  seed: number;
  /** Frames, first and last, counted from 1. */
  first: number;
  last: number;
  framesPerSecond: number;
  /** Share of a frame in which the shutter is open; 0 for no motion blur. */
  shutter: number;
  /** Path of the camera; the first one if empty. */
  camera: string;
  /** Radius of the lens in scene units; -1 leaves it to the camera. */
  lensRadius: number;
  focus: number;
  /** Name of an EXR in latitude and longitude among the scene's files that lights it; empty for the scene's sky. */
  surroundings: string;
  /** Turn of the surroundings about the vertical, in degrees, and how much brighter they are made, in stops. */
  surroundingsTurn: number;
  surroundingsStops: number;
}

export const DEFAULT_RENDER: RenderPlan = {
  width: 960,
  height: 540,
  doneWhen: 'samples',
  samples: 64,
  noise: 0.1,
  minutes: 5,
  bounces: 2,
  filter: 'blackman-harris',
  seed: 0,
  first: 1,
  last: 1,
  framesPerSecond: 24,
  shutter: 0,
  camera: '',
  lensRadius: -1,
  focus: 1,
  surroundings: '',
  surroundingsTurn: 0,
  surroundingsStops: 0,
};

export const emptyPlan = (): Plan => ({
  format: 'zesty-crow/plan',
  version: 2,
  objects: {},
  materials: {},
  rules: [],
  wishes: [],
  passes: [],
  output: { pattern: '{shot}_v{version}_{layers}.{frame}', idsApart: false, compression: 'zip' },
  render: { ...DEFAULT_RENDER },
});
