import { slotsByDepth } from '@zesty-crow/core';
import { depthOf } from '../open-frame.ts';
import { membersOf, type NamedId } from './members.ts';
import { ofLayer } from './question.ts';

/** Members behind some others, or before them, by the version's depth. */
export const membersByDepth = ofLayer<{ layer: string; ids: number[]; way: 'behind' | 'before' }, NamedId[]>({
  none: [],
  async answerFrom(layer, { open, planesOf }, { ids, way }) {
    const pass = depthOf(open.wall);
    const [depth] = pass ? await planesOf(pass.name, pass.channels) : [];
    if (!depth) return [];
    const slots = ids.flatMap((id) => layer.index.slotOf.get(id) ?? []);
    return membersOf(open, layer, slotsByDepth(layer.index, depth, slots, way));
  },
});
