import type { Stroke } from '../../masks/brush/stroke.ts';
import type { MemberPick } from '../../picks/member-pick.ts';
import type { ChangeList } from '../change.ts';
import { ownerIn, withChange, withOwner, type Edited } from './edited.ts';

/** Other picks of a change or heading. */
export const setPicks = (
  list: ChangeList,
  id: string,
  who: readonly MemberPick[],
  words = 'Pick',
): Edited => ({
  list: withOwner(list, id, () => ({ who })),
  words,
});

/**
 * Lets picks mean the same names in other layers, too: what is seen of them in mirrors and through glass.
 * @param elsewhere the layers that show the members of a layer once more
 */
export const alsoMean = (
  list: ChangeList,
  id: string,
  elsewhere: (layer: string) => readonly string[],
): Edited => ({
  list: withOwner(list, id, ({ who }) => ({
    who: who.map((pick) => {
      const more = elsewhere(pick.layer).filter((layer) => !pick.also?.some((a) => a.layer === layer));
      if (more.length === 0) return pick;
      return { ...pick, also: [...(pick.also ?? []), ...more.map((layer) => ({ layer, amount: 1 }))] };
    }),
  })),
  words: 'Also in mirrors and glass',
});

/** What the client said of a change, or what a heading says. */
export const setWords = (list: ChangeList, id: string, words: string): Edited => ({
  list: withOwner(list, id, () => ({ words })),
  words: list.headings.some((h) => h.id === id) ? 'Edit heading' : 'Edit words',
});

/** Mixes by coverage alone, or corrects the own part of pixels that show several things. */
export const setPlainEdges = (list: ChangeList, id: string, plain: boolean): Edited => ({
  list: withChange(list, id, (c) => ({ ...c, plainEdges: plain })),
  words: plain ? 'Plain edges' : 'Clean edges',
});

const strokeWords = ({ way }: Stroke) => (way === 'take' ? 'Brush away' : 'Brush');

/** One more stroke of the brush. */
export const addStroke = (list: ChangeList, id: string, stroke: Stroke): Edited => ({
  list: withOwner(list, id, ({ brush }) => ({ brush: [...brush, stroke] })),
  words: strokeWords(stroke),
});

/** The last stroke one place longer. */
export function lengthenStroke(list: ChangeList, id: string, x: number, y: number): Edited | undefined {
  const last = ownerIn(list, id)?.brush.at(-1);
  if (!last) return undefined;
  const longer: Stroke = { ...last, points: [...last.points, [x, y]] };
  return {
    list: withOwner(list, id, ({ brush }) => ({ brush: brush.with(-1, longer) })),
    words: strokeWords(longer),
  };
}

export const clearStrokes = (list: ChangeList, id: string): Edited => ({
  list: withOwner(list, id, () => ({ brush: [] })),
  words: 'Remove all strokes',
});
