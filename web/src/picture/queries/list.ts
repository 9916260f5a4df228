import { channelMask } from './channel-mask.ts';
import { coloursAlong } from './colours-along.ts';
import { compare } from './compare.ts';
import { dimming } from './dimming.ts';
import { frameState } from './frame-state.ts';
import { layUnder } from './lay-under.ts';
import { meanInVersion } from './mean-in-version.ts';
import { meanOf } from './mean-of.ts';
import { memberOutline } from './member-outline.ts';
import { membersAlong } from './members-along.ts';
import { membersByDepth } from './members-by-depth.ts';
import { membersWithin } from './members-within.ts';
import { middleOf } from './middle-of.ts';
import { partBounds } from './part-bounds.ts';
import { passValues } from './pass-values.ts';
import { pass } from './pass.ts';
import { probe } from './probe.ts';
import type { Question } from './question.ts';
import { readOther } from './read-other.ts';
import { relink } from './relink.ts';
import { roleKey } from './role-key.ts';
import { samples } from './samples.ts';
import { scope } from './scope.ts';
import { source } from './source.ts';
import { stateOf } from './state-of.ts';
import { thumbnail } from './thumbnail.ts';
import { tried } from './tried.ts';
import { useTable } from './use-table.ts';

/** All kinds of questions about the open frame, by what they are asked with. */
export const QUESTIONS = {
  channelMask,
  coloursAlong,
  compare,
  dimming,
  frameState,
  layUnder,
  meanInVersion,
  meanOf,
  memberOutline,
  membersAlong,
  membersByDepth,
  membersWithin,
  middleOf,
  partBounds,
  pass,
  passValues,
  probe,
  readOther,
  relink,
  roleKey,
  samples,
  scope,
  source,
  stateOf,
  thumbnail,
  tried,
  useTable,
};

type Questions = typeof QUESTIONS;
type Asked<K extends keyof Questions> = Questions[K] extends Question<infer Q, infer A> ? [Q, A] : never;

/** A question about the open frame. Those that need an ID layer wait for it. */
export type Query = { [K in keyof Questions]: { ask: K } & Asked<K>[0] }[keyof Questions];

/** What each is answered. */
export type Answers = { [K in keyof Questions]: Asked<K>[1] };
