import type { IdIndex } from '../idindex/id-index.ts';
import { TILE } from '../planes/tiles.ts';
import type { Area } from '../planes/area.ts';
import type { Shown } from './pass-picture.ts';

/** Rows of tiles that a member touches, as pixel rows: from the first, up to but without the last. */
function rowsOf({ tiles, tileWords, tilesX, height }: IdIndex, slot: number): [number, number] {
  let [first, last] = [Infinity, -1];
  for (let word = 0; word < tileWords; word++)
    for (let left = tiles[slot * tileWords + word]!; left !== 0; left &= left - 1) {
      const row = Math.floor((word * 32 + 31 - Math.clz32(left & -left)) / tilesX);
      first = Math.min(first, row);
      last = Math.max(last, row);
    }
  return [first * TILE, Math.min(height, (last + 1) * TILE)];
}

/** Runs of a member, row by row. */
function eachRun(
  index: IdIndex,
  s: number,
  on: (x: number, y: number, length: number, cover: number) => void,
): void {
  const { width, rowStart, slot, pixel, length, coverage } = index;
  const [from, to] = rowsOf(index, s);
  for (let y = from; y < to; y++)
    for (let i = rowStart[y]!; i < rowStart[y + 1]!; i++)
      if (slot[i] === s) on(pixel[i]! - y * width, y, length[i]!, coverage[i]!);
}

/** Where a member is: the smallest rectangle that holds it; undefined for one that does not occur. */
export function boundsOfMember(index: IdIndex, id: number): Area | undefined {
  const s = index.slotOf.get(id);
  if (s === undefined) return undefined;
  const box = { x0: Infinity, y0: Infinity, x1: 0, y1: 0 };
  eachRun(index, s, (x, y, n) => {
    box.x0 = Math.min(box.x0, x);
    box.y0 = Math.min(box.y0, y);
    box.x1 = Math.max(box.x1, x + n);
    box.y1 = Math.max(box.y1, y + 1);
  });
  return box;
}

/**
 * A member's mask by itself, as large as fits into `width` by `height`, in the middle: white on dark grey, so that what
 * hardly covers anything is still seen.
 */
export function memberThumbnail(index: IdIndex, id: number, width: number, height: number): Shown {
  const data = new Uint8ClampedArray(4 * width * height);
  for (let i = 0; i < data.length; i += 4) data.set([58, 58, 58, 255], i);
  const box = boundsOfMember(index, id);
  if (!box) return { width, height, data };
  const scale = Math.min(2, (width - 2) / (box.x1 - box.x0), (height - 2) / (box.y1 - box.y0));
  const left = (width - scale * (box.x1 - box.x0)) / 2 - scale * box.x0;
  const top = (height - scale * (box.y1 - box.y0)) / 2 - scale * box.y0;
  const cover = new Float32Array(width * height);
  eachRun(index, index.slotOf.get(id)!, (x, y, n, c) => {
    const [v0, v1] = [Math.floor(top + scale * y), Math.ceil(top + scale * (y + 1))];
    const [u0, u1] = [Math.floor(left + scale * x), Math.ceil(left + scale * (x + n))];
    for (let v = Math.max(0, v0); v < Math.min(height, v1); v++)
      for (let u = Math.max(0, u0); u < Math.min(width, u1); u++)
        cover[v * width + u] = Math.max(cover[v * width + u]!, c);
  });
  cover.forEach((c, i) => data.fill(58 + 197 * Math.min(1, c), 4 * i, 4 * i + 3));
  return { width, height, data };
}

/**
 * Black over all that these members do not cover, `opacity` of 255, no side longer than `side`: laid over a picture it
 * shows where they are without touching their colours.
 */
export function dimmingAround(index: IdIndex, ids: Iterable<number>, side: number, opacity: number): Shown {
  const by = Math.max(1, Math.ceil(Math.max(index.width, index.height) / side));
  const [width, height] = [Math.ceil(index.width / by), Math.ceil(index.height / by)];
  const cover = new Float32Array(width * height);
  const wanted = new Uint8Array(index.ids.length);
  for (const id of ids) {
    const s = index.slotOf.get(id);
    if (s !== undefined) wanted[s] = 1;
  }
  const { rowStart, slot, pixel, length, coverage } = index;
  for (let y = 0; y < index.height; y++) {
    const row = Math.floor(y / by) * width;
    for (let i = rowStart[y]!; i < rowStart[y + 1]!; i++) {
      if (!wanted[slot[i]!]) continue;
      const x = pixel[i]! - y * index.width;
      const end = x + length[i]!;
      for (let u = Math.floor(x / by); u * by < end; u++)
        cover[row + u]! += (coverage[i]! * (Math.min(end, (u + 1) * by) - Math.max(x, u * by))) / (by * by);
    }
  }
  const data = new Uint8ClampedArray(4 * width * height);
  cover.forEach((c, i) => (data[4 * i + 3] = opacity * (1 - Math.min(1, c))));
  return { width, height, data };
}
