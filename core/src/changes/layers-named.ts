import type { MemberPick } from '../picks/member-pick.ts';
import type { Masked } from './change.ts';

/** All that a mask names in ID layers: its picks, and what the shapes of its fence follow. */
export const picksOf = ({ who, fence }: Pick<Masked, 'who' | 'fence'>): MemberPick[] => [
  ...who,
  ...fence.flatMap(({ follow }): MemberPick[] =>
    follow ? [{ mode: 'with', layer: follow.layer, member: follow.member }] : [],
  ),
];

/** Names of the ID layers without which the mask of a change, and that of its heading, is not to be had. */
export const layersNamed = (change: Masked & { over?: Masked }): string[] => [
  ...new Set(
    [...picksOf(change), ...(change.over ? picksOf(change.over) : [])].flatMap((p) => [
      p.layer,
      ...(p.also ?? []).map((a) => a.layer),
    ]),
  ),
];
