import type { FieldValue, FieldValues } from '../fields/field.ts';
import type { Follow } from '../masks/fence/follow.ts';
import type { Stroke } from '../masks/brush/stroke.ts';
import type { MemberPick } from '../picks/member-pick.ts';

/**
 * A change list as it is stored, sent, exported and applied: one wish a change, in the client's words, with
 * who it concerns and what is done to them.
 */
export interface ChangeList {
  format: 'zesty-crow/changes';
  version: 7;
  headings: Heading[];
  changes: Change[];
  /** The same changes with other values. */
  variants: Variant[];
}

/** What makes a mask, in this order. */
export interface Masked {
  who: MemberPick[];
  /** How its edge is refined, one step after the other. */
  edge: StepUse[];
  /** Shapes drawn in the picture that limit it, one after the other. */
  fence: StepUse[];
  /** Strokes that add to it and take away from it at last. */
  brush: Stroke[];
  /**
   * What its places are shares of, where that is not the display window: lists before version 7 went by the whole picture,
   * with its overscan. Gone once the list has been opened over a version.
   */
  placesIn?: 'picture';
}

export interface Change extends Masked {
  /** Unique in the list; kept when the change is edited. */
  id: string;
  /** What was asked for, in the client's words. */
  words: string;
  /** Off: kept, but not applied. */
  on: boolean;
  /** Ticked off by the artist; says nothing about whether it is applied. */
  done: boolean;
  /** The heading that it stands under; those of one heading follow each other in the list. */
  heading?: string;
  /** Mixes by coverage alone where pixels show several things, instead of correcting the own part of each. */
  plainEdges: boolean;
  corrections: StepUse[];
  /** Only in these frames of a sequence; otherwise in all. */
  frames?: FrameRange;
  /** What was said about it, the oldest first. */
  comments?: Comment[];
}

/** What changes stand under that are switched as one; its mask, if it has any, limits them all. */
export interface Heading extends Masked {
  id: string;
  words: string;
  /** Off: none of its changes is applied. */
  on: boolean;
}

/** A correction, an edge step or a shape of a fence with its values; what is left out has its neutral value. */
export interface StepUse {
  id: string;
  kind: string;
  on: boolean;
  values: FieldValues;
  /** Values that change from frame to frame, by key, in the order of their frames; they go before `values`. */
  keys?: Record<string, Keyframe[]>;
  /** A shape of a fence goes with a member. */
  follow?: Follow;
}

/** What somebody said about a change. */
export interface Comment {
  id: string;
  text: string;
  /** When, as ISO 8601. */
  at: string;
}

/** A value at a frame; between two of them it goes over from one to the other. */
export interface Keyframe {
  frame: number;
  value: FieldValue;
  /** How it goes on to the next one: evenly, or slowly at both ends. */
  way: 'linear' | 'eased';
}

/** Frames in which a change is applied; without an end, all from there on. */
export interface FrameRange {
  first?: number;
  last?: number;
}

/** The same changes with other values: what it sets itself stands in place of what the list says. */
export interface Variant {
  id: string;
  name: string;
  sets: VariantSet[];
}

/**
 * What a variant sets of a change, or of one of its steps. Where it sets nothing the list's values hold, also when they
 * are changed later.
 */
export interface VariantSet {
  change: string;
  /** Without a step the change itself is meant. */
  step?: string;
  kind?: string;
  on?: boolean;
  /** Only what it sets; a neutral value is set, too, if it stands here. */
  values?: FieldValues;
}

export const emptyChangeList = (): ChangeList => ({
  format: 'zesty-crow/changes',
  version: 7,
  headings: [],
  changes: [],
  variants: [],
});

/** Nothing but a mask of nobody. */
export const noMask = (): Masked => ({ who: [], edge: [], fence: [], brush: [] });

/** Whether a heading has a mask: without anyone it names, a shape or a stroke it limits nothing. */
export const hasMask = ({ who, fence, brush }: Masked): boolean =>
  who.length > 0 || fence.some((f) => f.on) || brush.length > 0;
