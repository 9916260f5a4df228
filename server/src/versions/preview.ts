import { displayByte, onScreen, shownToPng, type RgbPlanes } from '@zesty-crow/core';

/** A picture averaged down in scene-linear light to at most `most` pixels across. */
function shrinkPicture(planes: RgbPlanes, most: number): RgbPlanes {
  const { width, height } = planes;
  const factor = Math.max(1, Math.ceil(width / most));
  const w = Math.max(1, Math.floor(width / factor));
  const h = Math.max(1, Math.floor(height / factor));
  const shrink = (plane: Float32Array) => {
    const out = new Float32Array(w * h);
    for (let y = 0; y < h; y++)
      for (let x = 0; x < w; x++) {
        let sum = 0;
        for (let j = 0; j < factor; j++)
          for (let i = 0; i < factor; i++)
            sum += Math.min(
              4,
              plane[Math.min(height - 1, y * factor + j) * width + Math.min(width - 1, x * factor + i)]!,
            );
        out[y * w + x] = sum / (factor * factor);
      }
    return out;
  };
  return { width: w, height: h, r: shrink(planes.r), g: shrink(planes.g), b: shrink(planes.b) };
}

/** A picture with every value replaced by what `put` makes of it. */
const mapped = ({ r, g, b, ...size }: RgbPlanes, put: (v: number) => number): RgbPlanes => ({
  ...size,
  r: r.map(put),
  g: g.map(put),
  b: b.map(put),
});

/** A picture as a small sRGB PNG, at most `most` pixels across. */
export const smallPng = (planes: RgbPlanes, most: number): Uint8Array =>
  shownToPng(mapped(shrinkPicture(onScreen(planes), most), displayByte));

/** The same of a picture whose values are those of the screen already, 0 to 1, as an ID pass in colours is. */
export const shownPng = (planes: RgbPlanes, most: number): Uint8Array =>
  shownToPng(mapped(shrinkPicture(planes, most), (v) => 255 * v));

/**
 * The same averaged as it is shown, not in linear light: what a screen makes of the whole picture, so that nothing
 * changes when the pixels take its place.
 */
export function standIn(planes: RgbPlanes, most: number): Uint8Array {
  const shown = mapped(onScreen(planes), (v) => displayByte(v) / 255);
  return shownToPng(mapped(shrinkPicture(shown, most), (v) => 255 * v));
}

/** The stored pictures of a frame: one for the wall, and one that stands in for the pixels until they are there. */
export const PREVIEWS = [
  { role: 'preview', make: (planes: RgbPlanes) => smallPng(planes, 480) },
  { role: 'preview-large', make: (planes: RgbPlanes) => standIn(planes, 1920) },
] as const;
