import { layersNamed, smallPicture, type ListedChange } from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import { stackBeside } from '../open-frame.ts';
import { layersThere, type Question } from './question.ts';

/**
 * The frame as other changes make it, as it is shown, its longer side so long. States that came before are kept, and only
 * what differs is computed.
 */
export const stateOf: Question<
  { changes: ListedChange[]; side: number; layer?: undefined },
  PassPicture | undefined
> = {
  none: undefined,
  async answer(desk, { changes, side }) {
    const { open } = desk;
    await layersThere(desk, changes.flatMap(layersNamed));
    await desk.readPasses(changes);
    return desk.aside(async () => {
      const stack = (open.state ??= stackBeside(open, desk.crew));
      await desk.computeBeside(stack, changes);
      const { width, height } = open.planes;
      return smallPicture(stack.result, { x0: 0, y0: 0, x1: width, y1: height }, side, desk.display());
    });
  },
};
