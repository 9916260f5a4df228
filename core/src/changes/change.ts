import type { FieldValues } from '../fields/field.ts';
import type { MemberPick } from '../picks/member-pick.ts';
/**
 * A change list as it is stored, sent, exported and applied: one wish a change, in the client's words, with
 * who it concerns and what is done to them.
 */
export interface ChangeList {
  format: 'zesty-crow/changes';
  version: 3;
  changes: Change[];
}

export interface Change {
  /** Unique in the list; kept when the change is edited. */
  id: string;
  /** What was asked for, in the client's words. */
  words: string;
  /** Off: kept, but not applied. */
  on: boolean;
  /** Ticked off by the artist; says nothing about whether it is applied. */
  done: boolean;
  who: MemberPick[];
  /** How the edge of its mask is refined, one step after the other. */
  edge: StepUse[];
  /** Shapes drawn in the picture that limit the mask, one after the other. */
  fence: StepUse[];
  /** Mixes by coverage alone where pixels show several things, instead of correcting the own part of each. */
  plainEdges: boolean;
  corrections: StepUse[];
}

/** A correction, an edge step or a shape of a fence with its values; what is left out has its neutral value. */
export interface StepUse {
  id: string;
  kind: string;
  on: boolean;
  values: FieldValues;
}

export const emptyChangeList = (): ChangeList => ({ format: 'zesty-crow/changes', version: 3, changes: [] });
