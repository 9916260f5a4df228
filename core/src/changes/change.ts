import type { FieldValue, FieldValues } from '../fields/field.ts';
import type { Follow } from '../masks/fence/follow.ts';
import type { Stroke } from '../masks/brush/stroke.ts';
import type { MemberPick } from '../picks/member-pick.ts';

/**
 * A change list as it is stored, sent, exported and applied: one wish a change, in the client's words, with
 * who it concerns and what is done to them. It is never changed in place: an edit makes another list, in which all that it
 * did not touch is the very same object, so that whoever follows a list sees by identity what to do anew.
 */
export interface ChangeList {
  readonly format: 'zesty-crow/changes';
  readonly version: 7;
  readonly headings: readonly Heading[];
  readonly changes: readonly Change[];
  /** The same changes with other values. */
  readonly variants: readonly Variant[];
}

/** What makes a mask, in this order. */
export interface Masked {
  readonly who: readonly MemberPick[];
  /** How its edge is refined, one step after the other. */
  readonly edge: readonly StepUse[];
  /** Shapes drawn in the picture that limit it, one after the other. */
  readonly fence: readonly StepUse[];
  /** Strokes that add to it and take away from it at last. */
  readonly brush: readonly Stroke[];
  /**
   * What its places are shares of, where that is not the display window: lists before version 7 went by the whole picture,
   * with its overscan. Gone once the list has been opened over a version.
   */
  readonly placesIn?: 'picture';
}

export interface Change extends Masked {
  /** Unique in the list; kept when the change is edited. */
  readonly id: string;
  /** What was asked for, in the client's words. */
  readonly words: string;
  /** Off: kept, but not applied. */
  readonly on: boolean;
  /** Ticked off by the artist; says nothing about whether it is applied. */
  readonly done: boolean;
  /** The heading that it stands under; those of one heading follow each other in the list. */
  readonly heading?: string;
  /** Mixes by coverage alone where pixels show several things, instead of correcting the own part of each. */
  readonly plainEdges: boolean;
  readonly corrections: readonly StepUse[];
  /** Only in these frames of a sequence; otherwise in all. */
  readonly frames?: FrameRange;
  /** What was said about it, the oldest first. */
  readonly comments?: readonly Comment[];
}

/** What changes stand under that are switched as one; its mask, if it has any, limits them all. */
export interface Heading extends Masked {
  readonly id: string;
  readonly words: string;
  /** Off: none of its changes is applied. */
  readonly on: boolean;
}

/** A correction, an edge step or a shape of a fence with its values; what is left out has its neutral value. */
export interface StepUse {
  readonly id: string;
  readonly kind: string;
  readonly on: boolean;
  readonly values: FieldValues;
  /** Values that change from frame to frame, by key, in the order of their frames; they go before `values`. */
  readonly keys?: Readonly<Record<string, readonly Keyframe[]>>;
  /** A shape of a fence goes with a member. */
  readonly follow?: Follow;
}

/** What somebody said about a change. */
export interface Comment {
  readonly id: string;
  readonly text: string;
  /** When, as ISO 8601. */
  readonly at: string;
}

/** A value at a frame; between two of them it goes over from one to the other. */
export interface Keyframe {
  readonly frame: number;
  readonly value: FieldValue;
  /** How it goes on to the next one: evenly, or slowly at both ends. */
  readonly way: 'linear' | 'eased';
}

/** Frames in which a change is applied; without an end, all from there on. */
export interface FrameRange {
  readonly first?: number;
  readonly last?: number;
}

/** The same changes with other values: what it sets itself stands in place of what the list says. */
export interface Variant {
  readonly id: string;
  readonly name: string;
  readonly sets: readonly VariantSet[];
}

/**
 * What a variant sets of a change, or of one of its steps. Where it sets nothing the list's values hold, also when they
 * are changed later.
 */
export interface VariantSet {
  readonly change: string;
  /** Without a step the change itself is meant. */
  readonly step?: string;
  readonly kind?: string;
  readonly on?: boolean;
  /** Only what it sets; a neutral value is set, too, if it stands here. */
  readonly values?: FieldValues;
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
