import {
  converter,
  modeHsl,
  modeLab,
  modeLch,
  modeLrgb,
  modeOklab,
  modeOklch,
  modeRgb,
  parse,
  useMode,
} from 'culori/fn';
import { linearToSrgb } from '@zesty-crow/core/colour';
import type { ColourValue } from '@zesty-crow/core/fields';

for (const mode of [modeRgb, modeLrgb, modeHsl, modeLab, modeLch, modeOklab, modeOklch]) useMode(mode);
const toLinear = converter('lrgb');

/**
 * A colour as it is typed, scene-linear Rec. 709: `#c0392b`, `192 57 43` (sRGB), `lab(52 48 31)`, `lch(52 57 33)`, or any
 * other colour that CSS Color 4 writes. Undefined if it is none; what the primaries cannot show goes to their border.
 */
export function colourOf(text: string): ColourValue | undefined {
  const plain = text.trim().toLowerCase();
  const numbers = /^(\d+(?:\.\d+)?)[\s,]+(\d+(?:\.\d+)?)[\s,]+(\d+(?:\.\d+)?)$/.exec(plain);
  const written = numbers
    ? `rgb(${numbers.slice(1).join(' ')})`
    : /^[0-9a-f]{3}([0-9a-f]{3})?$/.test(plain)
      ? `#${plain}`
      : plain.replace(/,/g, ' ');
  const found = parse(written);
  if (!found) return undefined;
  const { r, g, b } = toLinear(found);
  const values = [r, g, b].map((v) => Math.max(0, v));
  return values.every(Number.isFinite) ? (values as unknown as ColourValue) : undefined;
}

/** A colour as hex; undefined if a screen cannot show it. */
export function hexOf(colour: ColourValue): string | undefined {
  const bytes = colour.map((v) => Math.round(255 * linearToSrgb(v)));
  if (!bytes.every((b) => b >= 0 && b <= 255)) return undefined;
  return `#${bytes.map((b) => b.toString(16).padStart(2, '0')).join('')}`;
}
