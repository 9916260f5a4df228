import type { ColourValue } from '@zesty-crow/core/fields';
import { colourOf, hexOf } from '../../fields/colour-text.ts';

/** A colour with the name that its variant gets. */
export interface NamedColour {
  name: string;
  colour: ColourValue;
}

/** Lines of a list that hold no colour are told. */
export interface SwatchList {
  colours: NamedColour[];
  /** Numbers of lines, from 1 on. */
  unread: number[];
}

/** Cells of a line: separated by tab, semicolon or comma, where these do not stand in brackets or quotes. */
function cellsOf(line: string): string[] {
  const cells = [''];
  let depth = 0;
  let quoted = false;
  for (const c of line) {
    if (c === '"') quoted = !quoted;
    else if (!quoted && depth === 0 && /[\t;,]/.test(c)) {
      cells.push('');
      continue;
    }
    if (c === '(') depth++;
    if (c === ')') depth = Math.max(0, depth - 1);
    if (c !== '"') cells[cells.length - 1] += c;
  }
  return cells.map((c) => c.trim());
}

/** A colour in some cells: alone in one, or three numbers of sRGB, 0 to 255, in a row. */
function colourIn(
  cells: readonly string[],
): { colour: ColourValue; from: number; count: number } | undefined {
  for (const [from, cell] of cells.entries()) {
    const colour = /^#|\(|^[0-9a-f]{6}$/i.test(cell) ? colourOf(cell) : undefined;
    if (colour) return { colour, from, count: 1 };
  }
  for (let from = 0; from + 3 <= cells.length; from++) {
    const three = cells.slice(from, from + 3);
    if (!three.every((c) => /^\d+(\.\d+)?$/.test(c))) continue;
    const colour = colourOf(three.join(' '));
    if (colour) return { colour, from, count: 3 };
  }
  // A name that CSS knows, or numbers with blanks between them.
  for (const [from, cell] of cells.entries()) {
    const colour = colourOf(cell);
    if (colour) return { colour, from, count: 1 };
  }
  return undefined;
}

/** A colour and a name in one cell, as people write them: `Moss #4b5d2a`. */
function together(line: string): NamedColour | undefined {
  const found = /#[0-9a-f]{3}(?:[0-9a-f]{3})?\b|\b(?:lab|lch|oklab|oklch|rgb|hsl)\([^)]*\)/i.exec(line);
  const colour = found && colourOf(found[0]);
  if (!colour) return undefined;
  const name = line.replace(found[0], '').replace(/^[\s:=-]+|[\s:=-]+$/g, '');
  return { name, colour };
}

/**
 * Swatches as they are typed, pasted or kept in a CSV file: one a line, with or without a name before or behind it. What
 * has no name is called by its colour; of equal names the later ones get a number.
 */
export function swatchesOf(text: string): SwatchList {
  const colours: NamedColour[] = [];
  const unread: number[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    if (line.trim() === '') return;
    const cells = cellsOf(line);
    // Columns of this name are no colours.
    if (i === 0 && ['red', 'green', 'blue'].every((c) => cells.some((d) => d.toLowerCase() === c))) return;
    const found = colourIn(cells);
    const rest = found && cells.filter((_, k) => k < found.from || k >= found.from + found.count);
    const one = found ? { colour: found.colour, name: rest!.find((c) => c !== '') ?? '' } : together(line);
    // The first line of a table says what its columns are.
    if (one) colours.push({ ...one, name: one.name || (hexOf(one.colour) ?? 'Swatch') });
    else if (i > 0 || cells.length === 1) unread.push(i + 1);
  });
  return { colours: numbered(colours), unread };
}

/** No two of one name. */
export function numbered(colours: readonly NamedColour[]): NamedColour[] {
  const seen = new Map<string, number>();
  return colours.map(({ name, colour }) => {
    const n = (seen.get(name) ?? 0) + 1;
    seen.set(name, n);
    return { name: (n > 1 ? `${name} ${n}` : name).slice(0, 200), colour };
  });
}
