import { encode } from 'fast-png';
import { linearToSrgb } from '../../colour/srgb.ts';
import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import { type Box2i, boxHeight, boxWidth } from '../../planes/box.ts';

/** Calls back for each pixel of the display window: its place there, and in the data window, -1 outside. */
function eachDisplayed(data: Box2i, display: Box2i, visit: (to: number, from: number) => void): void {
  const width = boxWidth(data);
  let to = 0;
  for (let y = display.yMin; y <= display.yMax; y++)
    for (let x = display.xMin; x <= display.xMax; x++, to++) {
      const inside = x >= data.xMin && x <= data.xMax && y >= data.yMin && y <= data.yMax;
      visit(to, inside ? (y - data.yMin) * width + (x - data.xMin) : -1);
    }
}

/**
 * The display window of a picture as an sRGB PNG; overscan is left out, missing pixels are black.
 * @param planes scene-linear, of the data window's size
 * @param alpha straight through, 0 to 1; leave out for an opaque picture. Colour is unpremultiplied by it, because
 *   EXR stores premultiplied and PNG straight colour.
 */
export function pictureToPng(
  planes: RgbPlanes,
  windows: { dataWindow: Box2i; displayWindow: Box2i },
  depth: 8 | 16,
  alpha?: Float32Array,
): Uint8Array {
  const width = boxWidth(windows.displayWindow);
  const height = boxHeight(windows.displayWindow);
  const channels = alpha ? 4 : 3;
  const top = depth === 8 ? 255 : 65535;
  const data =
    depth === 8 ? new Uint8Array(width * height * channels) : new Uint16Array(width * height * channels);
  const quantise = (v: number) => (v > 0 ? Math.min(top, Math.round(v * top)) : 0);
  eachDisplayed(windows.dataWindow, windows.displayWindow, (to, from) => {
    if (from < 0) return;
    const a = alpha ? alpha[from]! : 1;
    const scale = a > 0 ? 1 / a : 1;
    data[to * channels] = quantise(linearToSrgb(planes.r[from]! * scale));
    data[to * channels + 1] = quantise(linearToSrgb(planes.g[from]! * scale));
    data[to * channels + 2] = quantise(linearToSrgb(planes.b[from]! * scale));
    if (alpha) data[to * channels + 3] = quantise(a);
  });
  return encode({ width, height, data, depth, channels });
}

/**
 * A picture that is only looked at as an 8-bit PNG.
 * @param planes as the screen shows them, 0 to 255, not rounded; see `displayByte`
 */
export function shownToPng({ width, height, r, g, b }: RgbPlanes): Uint8Array {
  const data = new Uint8Array(3 * width * height);
  for (let i = 0, to = 0; i < r.length; i++) {
    data[to++] = r[i]! + 0.5;
    data[to++] = g[i]! + 0.5;
    data[to++] = b[i]! + 0.5;
  }
  return encode({ width, height, data, depth: 8, channels: 3 });
}

/** A mask's display window as a 16-bit grey PNG, linear: 65535 is full coverage. */
export function maskToPng(
  mask: Float32Array,
  windows: { dataWindow: Box2i; displayWindow: Box2i },
): Uint8Array {
  const width = boxWidth(windows.displayWindow);
  const height = boxHeight(windows.displayWindow);
  const data = new Uint16Array(width * height);
  eachDisplayed(windows.dataWindow, windows.displayWindow, (to, from) => {
    if (from >= 0) data[to] = Math.min(65535, Math.max(0, Math.round(mask[from]! * 65535)));
  });
  return encode({ width, height, data, depth: 16, channels: 1 });
}
