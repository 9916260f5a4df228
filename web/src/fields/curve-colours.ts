import { displayByte, oklabToRgb } from '@zesty-crow/core/colour';

const STEPS = 36;
/** Of channels the colour that they add; of all, white. */
const CHANNELS: Readonly<Record<string, readonly [number, number, number]>> = {
  red: [1, 0.25, 0.2],
  green: [0.25, 0.85, 0.3],
  blue: [0.3, 0.5, 1],
};

/** The colours along an axis, from its beginning to its end, as CSS has them. */
export function coloursOf(axis: 'light' | 'hue' | 'lightness', key: string): string[] {
  const out: [number, number, number] = [0, 0, 0];
  return Array.from({ length: STEPS }, (_, i) => {
    const x = (i + 0.5) / STEPS;
    if (axis === 'light') {
      const tint = CHANNELS[key] ?? [1, 1, 1];
      return `rgb(${tint.map((c) => Math.round(255 * c * x)).join(' ')})`;
    }
    const angle = 2 * Math.PI * x;
    const chroma = axis === 'hue' ? 0.12 : 0;
    oklabToRgb(axis === 'hue' ? 0.72 : x, chroma * Math.cos(angle), chroma * Math.sin(angle), out);
    return `rgb(${out.map((v) => Math.round(displayByte(v))).join(' ')})`;
  });
}
