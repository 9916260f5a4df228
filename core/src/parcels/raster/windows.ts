import { boxHeight, boxWidth, type Box2i } from '../../planes/box.ts';

/** A part of a picture that is written, in pixels of its display window. */
export interface Crop {
  width: number;
  height: number;
  x: number;
  y: number;
}

/** A crop from a text such as `800x450+100+50`; undefined where it is empty. Throws where it means nothing. */
export function parseCrop(text: string): Crop | undefined {
  if (!text.trim()) return undefined;
  const found = /^\s*(\d+)\s*[x×]\s*(\d+)\s*\+\s*(\d+)\s*\+\s*(\d+)\s*$/.exec(text);
  const [width, height, x, y] = (found?.slice(1) ?? []).map(Number) as [number, number, number, number];
  if (!found || width < 1 || height < 1)
    throw new Error('Write the crop as width x height + left + top: 800x450+100+50.');
  return { width, height, x, y };
}

/** The window that is written: the display window, the data window with its overscan, or a crop of the display window. */
export function windowOf(
  { dataWindow, displayWindow }: { dataWindow: Box2i; displayWindow: Box2i },
  whole: string,
  crop: Crop | undefined,
): Box2i {
  if (!crop) return whole === 'data' ? dataWindow : displayWindow;
  const { xMin, yMin, xMax, yMax } = displayWindow;
  const [x0, y0] = [xMin + crop.x, yMin + crop.y];
  if (x0 > xMax || y0 > yMax) throw new Error('The crop lies outside of the picture.');
  return {
    xMin: x0,
    yMin: y0,
    xMax: Math.min(xMax, x0 + crop.width - 1),
    yMax: Math.min(yMax, y0 + crop.height - 1),
  };
}

/** The window that a file is written with, by the settings `window` and `crop`. */
export const writtenWindow = (
  header: { dataWindow: Box2i; displayWindow: Box2i },
  { window, crop }: Readonly<Record<string, unknown>>,
): Box2i => windowOf(header, window as string, parseCrop(crop as string));

/** For each pixel of a window its place among those of the data window; -1 where that has none. Row-major. */
export function placesIn(data: Box2i, window: Box2i): Int32Array {
  const [across, width] = [boxWidth(window), boxWidth(data)];
  return Int32Array.from({ length: across * boxHeight(window) }, (_, i) => {
    const [x, y] = [window.xMin + (i % across), window.yMin + Math.floor(i / across)];
    const inside = x >= data.xMin && x <= data.xMax && y >= data.yMin && y <= data.yMax;
    return inside ? (y - data.yMin) * width + x - data.xMin : -1;
  });
}
