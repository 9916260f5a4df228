import type { IdIndex } from '../../idindex/id-index.ts';
import type { RankPlanes } from '../../idlayers/rank-planes.ts';

/** One pixel's members on their way into ranks. */
export interface PixelMembers {
  count: number;
  ids: Uint32Array;
  coverage: Float64Array;
}

const MOST = 256;

/**
 * Goes through all pixels of an index with the members that each holds, several ranks of one ID as one, what no ID
 * covers left out. The same object is handed out again and again.
 */
export function eachPixel(index: IdIndex, visit: (pixel: number, members: PixelMembers) => void): void {
  const { width, height, rowStart, pixel, length, slot, ids, coverage } = index;
  const members: PixelMembers = { count: 0, ids: new Uint32Array(MOST), coverage: new Float64Array(MOST) };
  for (let y = 0; y < height; y++) {
    const row = y * width;
    // Runs by the pixel at which they begin; as they go on they are kept in `open`.
    const starts = Array.from({ length: rowStart[y + 1]! - rowStart[y]! }, (_, i) => rowStart[y]! + i)
      .filter((i) => ids[slot[i]!] !== 0)
      .sort((a, b) => pixel[a]! - pixel[b]!);
    let open: number[] = [];
    /** Where the first of the open ones ends. */
    let until = Infinity;
    for (let x = 0, next = 0; x < width; x++) {
      const p = row + x;
      if (p >= until) {
        open = open.filter((i) => pixel[i]! + length[i]! > p);
        until = open.reduce((least, i) => Math.min(least, pixel[i]! + length[i]!), Infinity);
      }
      for (; next < starts.length && pixel[starts[next]!] === p; next++) {
        open.push(starts[next]!);
        until = Math.min(until, p + length[starts[next]!]!);
      }
      if (open.length === 0) continue;
      members.count = 0;
      for (const i of open) {
        const id = ids[slot[i]!]!;
        let at = 0;
        while (at < members.count && members.ids[at] !== id) at++;
        if (at === members.count) {
          if (at === MOST) continue;
          members.ids[at] = id;
          members.coverage[at] = 0;
          members.count++;
        }
        members.coverage[at]! += coverage[i]!;
      }
      visit(p, members);
    }
  }
}

/**
 * Ranks of the chosen members of an index, as many as the fullest pixel needs, largest coverage first.
 * @param settle may change the coverages of a pixel before they are sorted; those that are 0 then are left out
 */
export function ranksOf(
  index: IdIndex,
  chosen: (id: number) => boolean,
  settle: (members: PixelMembers) => void = () => undefined,
): RankPlanes {
  const pixels = index.width * index.height;
  const planes: RankPlanes = { width: index.width, height: index.height, ids: [], coverage: [] };
  const keep = new Map(Array.from(index.ids, (id) => [id, chosen(id)]));
  eachPixel(index, (p, members) => {
    let n = 0;
    for (let i = 0; i < members.count; i++)
      if (keep.get(members.ids[i]!)) {
        members.ids[n] = members.ids[i]!;
        members.coverage[n++] = members.coverage[i]!;
      }
    members.count = n;
    settle(members);
    for (let rank = 0; ; rank++) {
      let most = -1;
      for (let i = 0; i < members.count; i++)
        if (members.coverage[i]! > 0 && (most < 0 || members.coverage[i]! > members.coverage[most]!))
          most = i;
      if (most < 0) break;
      if (rank === planes.ids.length) {
        planes.ids.push(new Uint32Array(pixels));
        planes.coverage.push(new Float32Array(pixels));
      }
      planes.ids[rank]![p] = members.ids[most]!;
      planes.coverage[rank]![p] = members.coverage[most]!;
      members.coverage[most] = 0;
    }
  });
  return planes;
}
