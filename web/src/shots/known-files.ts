import type { KnownFile } from '@zesty-crow/server/contract';
import { api } from '../server/api.ts';
import { sumOf } from './sums.ts';
import type { Dropped, Group } from '../shot/bring-in/add-files.ts';

/** Files whose sums are taken: more would keep the artist waiting for a question that size alone answers well enough. */
const MOST_SUMS = 40;

/**
 * Where files that were dropped are part of a version already, by their sums. Only those are read whose size some stored
 * file has; of very many only the first.
 */
export async function knownAlready(files: readonly Dropped[]): Promise<Map<Dropped, KnownFile>> {
  const bySize = await api.knownFiles(files.map(({ size }) => ({ size })));
  const maybe = files.filter((f, i) => bySize[i] && f.from instanceof File).slice(0, MOST_SUMS);
  const sums = await Promise.all(
    maybe.map(async ({ from, size }) => ({ size, sha256: await sumOf(from as File) })),
  );
  const known = sums.length ? await api.knownFiles(sums) : [];
  return new Map(maybe.flatMap((f, i) => (known[i] ? [[f, known[i]] as const] : [])));
}

/** Says of groups that are there already where they are. */
export function tellKnown(groups: readonly Group[], known: ReadonlyMap<Dropped, KnownFile>): Group[] {
  return groups.map((group) => {
    const pictures = group.files.filter((f) => f.role === 'picture');
    const there = pictures.flatMap((f) => known.get(f.file) ?? []);
    const [first] = there;
    if (!first) return group;
    const where = `“${first.shot}”, v${first.version}`;
    const doubt =
      there.length === pictures.length
        ? `${pictures.length === 1 ? 'This file is' : 'All of these are'} in ${where} already. Bring in again?`
        : `${there.length} of these are in ${where} already.`;
    return { ...group, doubts: [doubt, ...group.doubts] };
  });
}
