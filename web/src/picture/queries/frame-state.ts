import type { ListedChange } from '@zesty-crow/core';
import { stateOfFrame } from '../beside.ts';
import type { FrameState, VersionFiles } from '../messages.ts';
import type { Question } from './question.ts';

/** Another frame of a version as changes make it; undefined if it was given up for something else. */
export const frameState: Question<
  { version: VersionFiles; frame: number; changes: ListedChange[]; side: number; layer?: undefined },
  FrameState | undefined
> = {
  none: undefined,
  answer: (desk, { version, frame: number, changes, side }) =>
    desk.inBackground(async (signal) => {
      const frame = await desk.openFrame(version, number, signal);
      return stateOfFrame(frame, changes, {
        crew: desk.crew,
        signal,
        display: desk.display(),
        side,
        readPicture: desk.readPicture,
        stored: (layer, of) => desk.storedIndex(version, layer, number, of, signal),
      });
    }),
};
