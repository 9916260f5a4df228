import type { VersionFiles } from '../messages.ts';
import type { Question } from './question.ts';

/** A frame of another version, as large as this one, to be compared with under a key. */
export const readOther: Question<
  { key: string; version: VersionFiles; frame: number | undefined; layer?: undefined },
  undefined
> = {
  none: undefined,
  async answer({ openFrame, readOther: read, signal }, { key, version, frame }) {
    await read(key, await openFrame(version, frame, signal));
    return undefined;
  },
};
