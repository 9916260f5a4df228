import { ChangeStack, layersNamed, type ListedChange } from '@zesty-crow/core';
import { readBeside } from '../beside.ts';
import type { VersionFiles } from '../messages.ts';
import { meanOnScreen } from './mean.ts';
import type { Question } from './question.ts';

/** Mean colour of what a change picks in another version, as rendered; scene-linear Rec. 709. */
export const meanInVersion: Question<
  { version: VersionFiles; frame: number | undefined; change: ListedChange; layer?: undefined },
  [number, number, number] | undefined
> = {
  none: undefined,
  async answer({ openFrame, crew, signal }, { version, frame, change }) {
    const other = await openFrame(version, frame, signal);
    const { planes, cast } = await readBeside(other, layersNamed(change), signal);
    if (!planes) return undefined;
    const stack = new ChangeStack(planes, cast, { allocate: (bytes) => crew.allocate(bytes) });
    stack.update([{ ...change, corrections: [] }]);
    const mask = stack.mask(change.id);
    return mask && meanOnScreen(planes, mask);
  },
};
