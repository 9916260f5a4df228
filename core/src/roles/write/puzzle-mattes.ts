import { makeNumberedLayer } from '../../idlayers/numbered.ts';
import { PUZZLE_LAYER } from '../puzzle-matte.ts';
import { addCoverage, plainChannel, type RewriteKind } from './rewrite.ts';

const LETTERS = ['R', 'G', 'B'] as const;

/** Three numbers in the red, green and blue of each picture: 1 to 3, 4 to 6, … */
export const asPuzzleMattes: RewriteKind = {
  kind: 'puzzle-mattes',
  label: 'Puzzle mattes',
  write(_, index, members) {
    const pixels = index.width * index.height;
    const planes = new Map<string, Float32Array>();
    const names = new Map<string, string>();
    const planeOf = new Map<number, Float32Array>();
    for (const { name, id, number } of members) {
      const set = `puzzle_${Math.floor((number - 1) / 3) + 1}`;
      // A picture has all three, so that it is one.
      for (const letter of LETTERS)
        if (!planes.has(`${set}.${letter}`)) planes.set(`${set}.${letter}`, new Float32Array(pixels));
      const channel = `${set}.${LETTERS[(number - 1) % 3]!}`;
      if (!names.has(channel)) names.set(channel, name);
      planeOf.set(id, planes.get(channel)!);
    }
    addCoverage(index, (id) => planeOf.get(id));
    return {
      channels: [...planes].map(([name, plane]) => plainChannel(name, plane)),
      attributes: [...names].map(([channel, member]) =>
        makeNumberedLayer({ layer: PUZZLE_LAYER, kind: 'puzzle-matte', members: [{ channel, member }] }),
      ),
    };
  },
};
