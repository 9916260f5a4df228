import { nameOfNumber, PIECES, threeChannels, wordsOf, type PuzzleMatteUse, type RoleKind } from './role.ts';

export const PUZZLE_LAYER = 'Puzzle mattes';
const SLOTS = ['r', 'g', 'b'] as const;
const COLOURS = { r: 'red', g: 'green', b: 'blue' } as const;

/** Names of the three members of a set: 1 to 3 of the first, 4 to 6 of the second; by colour where it has no number. */
export function puzzleNames(layer: string, use: PuzzleMatteUse): { slot: 'r' | 'g' | 'b'; name: string }[] {
  const number = wordsOf(layer).find((w) => /^\d{1,3}$/.test(w));
  return SLOTS.map((slot, i) => ({
    slot,
    name:
      use[slot] ??
      (number === undefined ? `${layer} ${COLOURS[slot]}` : nameOfNumber(3 * (Number(number) - 1) + i + 1)),
  }));
}

/** Three masks in one picture. */
export const puzzleMatte: RoleKind<PuzzleMatteUse> = {
  role: 'puzzle-matte',
  label: 'Puzzle matte',
  purpose: 'Three masks in one picture, in its red, green and blue.',
  schema: {
    required: ['role'],
    properties: { role: { const: 'puzzle-matte' }, r: PIECES.text, g: PIECES.text, b: PIECES.text },
  },
  proposes(layer) {
    const words = wordsOf(layer.name);
    const named = words.some(
      (w) => w === 'puzzle' || w === 'puzzlematte' || w === 'rgbmatte' || w === 'matte',
    );
    return named && threeChannels(layer).length === 3 ? { role: 'puzzle-matte' } : undefined;
  },
  members(layer, use) {
    const three = threeChannels(layer);
    return {
      layer: PUZZLE_LAYER,
      kind: 'puzzle-matte',
      members: puzzleNames(layer.name, use).flatMap(({ name }, i) =>
        name === '' || !three[i] ? [] : [{ channel: three[i].name, member: name }],
      ),
    };
  },
};
