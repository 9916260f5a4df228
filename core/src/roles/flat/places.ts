import { apart, type Keys, type Labels } from './colours.ts';

/** Pixels of a piece that is worth being told apart. */
const LEAST_PIXELS = 30;
/** A line is darker than the colour under it by more than rounding. */
const LINE = 8;

/**
 * Pieces of each colour that hang together, as their numbers by pixel, 1 and more in the order in which they begin; 0
 * for what is not pure or lies on a line of the outlined twin. So two things of one colour that touch are two pieces.
 */
export function piecesOf(
  { of, pure }: Labels,
  keys: Keys,
  width: number,
  twin?: Keys,
): { of: Uint32Array; pixels: number[] } {
  const pieces = new Uint32Array(of.length);
  const pixels = [0];
  const stack: number[] = [];
  const open = (p: number) => pure[p] === 1 && pieces[p] === 0 && !(twin && apart(twin[p]!, keys[p]!) > LINE);
  for (let start = 0; start < of.length; start++) {
    if (!open(start)) continue;
    const label = of[start];
    const number = pixels.push(0) - 1;
    pieces[start] = number;
    stack.push(start);
    while (stack.length) {
      const p = stack.pop()!;
      pixels[number]!++;
      const x = p % width;
      for (const q of [p - width, p + width, x > 0 ? p - 1 : -1, x + 1 < width ? p + 1 : -1])
        if (q >= 0 && q < of.length && of[q] === label && open(q)) {
          pieces[q] = number;
          stack.push(q);
        }
    }
  }
  return { of: pieces, pixels };
}

/** A new label for some pieces of an old one. */
export interface Split {
  pieces: ReadonlySet<number>;
  from: number;
  to: number;
}

/**
 * Pieces of one colour that touch each other and are told apart by nothing but the lines of the outlined twin: all but
 * the first of each such group become a label of their own.
 * @param apartPieces the pieces that the lines make
 */
export function touchingPieces(
  labels: Labels,
  keys: Keys,
  width: number,
  apartPieces: ReturnType<typeof piecesOf>,
  next: number,
): Split[] {
  const whole = piecesOf(labels, keys, width);
  /** By piece that hangs together without lines: those that the lines make of it. */
  const groups = new Map<number, Set<number>>();
  const labelOf = new Map<number, number>();
  apartPieces.of.forEach((piece, p) => {
    if (piece === 0 || apartPieces.pixels[piece]! < LEAST_PIXELS) return;
    labelOf.set(piece, labels.of[p]!);
    const group = groups.get(whole.of[p]!) ?? new Set();
    groups.set(whole.of[p]!, group.add(piece));
  });
  let to = next;
  return [...groups.values()].flatMap((group) =>
    [...group].slice(1).map((piece) => ({ pieces: new Set([piece]), from: labelOf.get(piece)!, to: to++ })),
  );
}

/** Relabels pieces; pixels of the same colour that belong to no piece go with the nearest one, up to 8 pixels away. */
export function relabel(labels: Labels, pieces: Uint32Array, width: number, splits: readonly Split[]): void {
  const becomes = new Map(splits.flatMap((s) => [...s.pieces].map((piece) => [piece, s] as const)));
  const colours = new Set(splits.map((s) => s.from));
  const before = labels.of.slice();
  const height = before.length / width;
  const nearest = (x: number, y: number, label: number): number => {
    for (let r = 1; r <= 8; r++)
      for (let v = Math.max(0, y - r); v <= y + r && v < height; v++)
        for (let u = Math.max(0, x - r); u <= x + r && u < width; u++) {
          if (Math.max(Math.abs(u - x), Math.abs(v - y)) !== r) continue;
          const q = v * width + u;
          if (pieces[q] !== 0 && before[q] === label) return pieces[q]!;
        }
    return 0;
  };
  for (let p = 0; p < before.length; p++) {
    const label = before[p]!;
    if (!colours.has(label)) continue;
    const own = pieces[p] || nearest(p % width, Math.floor(p / width), label);
    const split = becomes.get(own);
    if (split?.from === label) labels.of[p] = split.to;
  }
}
