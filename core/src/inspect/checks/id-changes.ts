import type { Finding } from '../../findings/finding.ts';
import type { SeenFrame, VersionCheck } from '../version-check.ts';
import { examples } from '../version-check.ts';

/** Names whose ID is another one in a second frame, by layer. */
function changed(a: SeenFrame, b: SeenFrame): { layer: string; names: string[] }[] {
  return [...b.layers].flatMap(([layer, members]) => {
    const ids = new Map((a.layers.get(layer) ?? []).map((m) => [m.name, m.id]));
    const names = members.filter((m) => (ids.get(m.name) ?? m.id) !== m.id).map((m) => m.name);
    return names.length ? [{ layer, names }] : [];
  });
}

const WHY =
  'Picks by name go on; picks of unnamed IDs lose what they meant. IDs should be made of names and nothing else.';

/** A name that has another ID in another frame. */
export const idChanges: VersionCheck = {
  code: 'id-changes',
  title: 'IDs that stay over frames',
  scope: 'version',
  run({ seen }) {
    const names = new Map<string, Set<string>>();
    let first: number | undefined;
    for (let i = 1; i < seen.length; i++)
      for (const c of changed(seen[i - 1]!, seen[i]!)) {
        first ??= seen[i]!.frame;
        names.set(c.layer, new Set([...(names.get(c.layer) ?? []), ...c.names]));
      }
    return [...names].map(([layer, list]): Finding => ({
      severity: 'warning',
      code: 'id-changes',
      message: `${layer}: ${examples([...list])} ${list.size === 1 ? 'changes its ID' : 'change their IDs'} over the frames, first in ${first}. ${WHY}`,
    }));
  },
};

/** The same against the version before. */
export const idChangesOfVersions: VersionCheck = {
  code: 'id-changes',
  title: 'IDs that stay over versions',
  scope: 'versions',
  run({ seen: [own], before }) {
    if (!own || !before) return [];
    return changed(before.frame, own).map(({ layer, names }): Finding => ({
      severity: 'info',
      code: 'id-changes',
      message: `${layer}: ${examples(names)} ${names.length === 1 ? 'has another ID' : 'have other IDs'} than in version ${before.number}. ${WHY}`,
    }));
  },
};
