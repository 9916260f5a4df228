import { onScreen } from '../../display/view.ts';
import { DISPLAY_TRANSFORMS } from '../../display/transforms.ts';
import { iccProfile } from '../../formats/profile-write.ts';
import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import { RASTER_FORMATS } from './formats.ts';

/**
 * The display transform that a file is written with, by its settings `format` and `transform`: what is usual is linear
 * light in files of floats, and sRGB in all others.
 */
export function writtenTransform({ format, transform }: Readonly<Record<string, unknown>>): string {
  if (transform !== 'usual') return transform as string;
  return RASTER_FORMATS.find((f) => f.format === format)?.depth === 32 ? 'raw' : 'srgb';
}

/** Profiles by display transform: what its values mean. Raw values are linear light. */
const PROFILES: Record<string, Parameters<typeof iccProfile>[0]> = {
  srgb: { name: 'sRGB', curve: 'srgb' },
  soft: { name: 'sRGB', curve: 'srgb' },
  rec709: { name: 'Rec. 709, gamma 2.4', curve: 2.4 },
  raw: { name: 'Rec. 709, linear', curve: 1 },
};
export const profileFor = (transform: string): Uint8Array =>
  iccProfile(PROFILES[transform] ?? PROFILES['srgb']!);

/**
 * Pixels of a picture as a screen shows them, samples side by side, not clamped.
 * @param places where each pixel is among the planes'; -1 is black, and clear
 * @param alpha of the same size as the planes: colour is divided by it, because EXR stores it multiplied
 * @returns three samples a pixel, or four with alpha
 */
export function shownSamples(
  planes: RgbPlanes,
  places: Int32Array,
  transform: string,
  alpha?: Float32Array,
): Float32Array {
  const { curve } = DISPLAY_TRANSFORMS.find((t) => t.name === transform) ?? DISPLAY_TRANSFORMS[0]!;
  const { r, g, b } = onScreen(planes);
  const channels = alpha ? 4 : 3;
  const out = new Float32Array(places.length * channels);
  for (let i = 0; i < places.length; i++) {
    const p = places[i]!;
    if (p < 0) continue;
    const a = alpha ? alpha[p]! : 1;
    const scale = a > 0 ? 1 / a : 1;
    const at = i * channels;
    out[at] = curve(r[p]! * scale);
    out[at + 1] = curve(g[p]! * scale);
    out[at + 2] = curve(b[p]! * scale);
    if (alpha) out[at + 3] = a;
  }
  return out;
}
