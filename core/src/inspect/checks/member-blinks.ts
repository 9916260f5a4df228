import type { VersionCheck } from '../version-check.ts';
import { examples } from '../version-check.ts';
import { rangesOf } from './frames-missing.ts';

/** Fewer pixels than this come and go by themselves. */
const LEAST = 20;

/** Members that are gone for a frame and there before and after, or there for a frame only. */
export const memberBlinks: VersionCheck = {
  code: 'member-blinks',
  title: 'Members that stay over frames',
  scope: 'version',
  run({ seen }) {
    const gone = new Map<string, number[]>();
    const flashes = new Map<string, number[]>();
    for (let i = 1; i + 1 < seen.length; i++) {
      const [a, b, c] = [seen[i - 1]!, seen[i]!, seen[i + 1]!];
      if (b.frame !== a.frame + 1 || c.frame !== b.frame + 1) continue;
      for (const [layer, members] of b.layers) {
        const [before, after] = [a.layers.get(layer), c.layers.get(layer)];
        if (!before || !after) continue;
        const areas = (list: typeof members) => new Map(list.map((m) => [m.name, m.coverage]));
        const [was, is, will] = [areas(before), areas(members), areas(after)];
        const note = (list: Map<string, number[]>, name: string) =>
          list.set(`${layer}: ${name}`, [...(list.get(`${layer}: ${name}`) ?? []), b.frame]);
        for (const [name, area] of was)
          if (area >= LEAST && (will.get(name) ?? 0) >= LEAST && !is.has(name)) note(gone, name);
        for (const [name, area] of is)
          if (area >= LEAST && !was.has(name) && !will.has(name)) note(flashes, name);
      }
    }
    const tell = (list: Map<string, number[]>, what: string, why: string) =>
      list.size === 0
        ? []
        : [
            {
              severity: 'warning' as const,
              code: 'member-blinks',
              message: `${examples([...list.keys()])} ${list.size === 1 ? 'is' : 'are'} ${what} ${rangesOf([...new Set([...list.values()].flat())].sort((x, y) => x - y))}. ${why}`,
            },
          ];
    return [
      ...tell(
        gone,
        'gone in',
        'A change of it stops there for a frame. Look whether its ID pass was rendered there.',
      ),
      ...tell(flashes, 'there only in', 'Its ID may have another name in the frames around.'),
    ];
  },
};
