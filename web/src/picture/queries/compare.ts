import { compareFrames, type Comparison } from '@zesty-crow/core';
import type { VersionFiles } from '../messages.ts';
import type { Question } from './question.ts';

/** Another version's frame against the one that is open, which is the later one. */
export const compare: Question<
  { version: VersionFiles; frame: number | undefined; side: number; layer?: undefined },
  Comparison | undefined
> = {
  none: undefined,
  async answer({ open, openFrame, signal }, { version, frame, side }) {
    const before = await openFrame(version, frame, signal);
    return compareFrames(before, open.frame, side, { signal });
  },
};
