import { boxHeight, boxWidth } from '../../planes/box.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import type { ExrHeader } from './types.ts';

/** Lines that a block of a compression holds. */
export const linesOf = (compression: string): number =>
  COMPRESSIONS.find((c) => c.name === compression)!.linesPerBlock;

/** How many blocks the picture itself has: bands of lines, or tiles of the whole size. */
export function blocksOf({ dataWindow, compression, tiles }: ExrHeader): number {
  if (!tiles) return Math.ceil(boxHeight(dataWindow) / linesOf(compression));
  return Math.ceil(boxWidth(dataWindow) / tiles.width) * Math.ceil(boxHeight(dataWindow) / tiles.height);
}

/** How many entries the table of blocks has: those of smaller copies are among them, after the picture's own. */
export function blocksInTable(header: ExrHeader): number {
  const { tiles, dataWindow } = header;
  if (!tiles || tiles.levels === 'one') return blocksOf(header);
  const round = tiles.roundUp ? Math.ceil : Math.floor;
  const [width, height] = [boxWidth(dataWindow), boxHeight(dataWindow)];
  const count = (size: number) => round(Math.log2(size)) + 1;
  const at = (size: number, level: number) => Math.max(1, round(size / 2 ** level));
  const across = (level: number) => Math.ceil(at(width, level) / tiles.width);
  const down = (level: number) => Math.ceil(at(height, level) / tiles.height);
  let sum = 0;
  if (tiles.levels === 'mip')
    for (let l = 0; l < count(Math.max(width, height)); l++) sum += across(l) * down(l);
  else
    for (let y = 0; y < count(height); y++) for (let x = 0; x < count(width); x++) sum += across(x) * down(y);
  return sum;
}
