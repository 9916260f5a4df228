import type { Area } from '../planes/area.ts';

const CELL = 16;
const MOST = 200;

/** Collects pixels into rectangles that can be shown: cells of 16 pixels, side by side in a row as one. */
export class Places {
  private readonly across: number;
  private readonly cells: Uint8Array;
  count = 0;

  constructor(
    private readonly width: number,
    private readonly height: number,
  ) {
    this.across = Math.ceil(width / CELL);
    this.cells = new Uint8Array(this.across * Math.ceil(height / CELL));
  }

  add(pixel: number): void {
    const [x, y] = [pixel % this.width, Math.floor(pixel / this.width)];
    this.cells[Math.floor(y / CELL) * this.across + Math.floor(x / CELL)] = 1;
    this.count++;
  }

  areas(): Area[] {
    const { across, cells, width, height } = this;
    const found: Area[] = [];
    for (let row = 0; row * across < cells.length; row++)
      for (let x = 0; x < across;) {
        const from = x++;
        if (!cells[row * across + from]) continue;
        while (x < across && cells[row * across + x]) x++;
        const y0 = row * CELL;
        found.push({ x0: from * CELL, y0, x1: Math.min(width, x * CELL), y1: Math.min(height, y0 + CELL) });
        if (found.length === MOST) return found;
      }
    return found;
  }
}

/** How many, for people. */
export const countOf = (n: number, what: string): string =>
  `${n.toLocaleString('en')} ${what}${n === 1 ? '' : 's'}`;
