import { decode as decodePng } from 'fast-png';
import jpeg from 'jpeg-js';
import { boundedPng } from '../formats/png/bounded.ts';
import { srgbToLinear } from '../colour/srgb.ts';

/** A decoded picture on a surface: RGBA, 8 bits, row-major from the top left. */
export interface Texture {
  width: number;
  height: number;
  data: Uint8Array;
  wrapS: Wrap;
  wrapT: Wrap;
}
export type Wrap = 'repeat' | 'mirror' | 'clamp';

/** Largest side of a texture that is read. */
const LARGEST = 16384;
/** Most pixels that a texture may have: a small file may claim a huge picture. */
const MOST_PIXELS = 300e6;

/**
 * Decodes PNG or JPEG bytes. Throws an Error that says what is wrong; the size is checked before pixels are made.
 */
export function decodeTexture(bytes: Uint8Array): Pick<Texture, 'width' | 'height' | 'data'> {
  if (bytes[0] === 0x89 && bytes[1] === 0x50) {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    const [w, h] = bytes.length > 24 ? [view.getUint32(16), view.getUint32(20)] : [0, 0];
    if (w > LARGEST || h > LARGEST || w * h > MOST_PIXELS)
      throw new Error(`it is larger than ${LARGEST} pixels, or than ${MOST_PIXELS / 1e6} million in all`);
    const png = decodePng(boundedPng(bytes));
    const { width, height, channels } = png;
    const data = new Uint8Array(width * height * 4);
    const shift = png.depth === 16 ? 8 : 0;
    for (let i = 0; i < width * height; i++) {
      const at = (k: number) => png.data[i * channels + k]! >> shift;
      if (png.palette) {
        const entry = png.palette[png.data[i]!] ?? [0, 0, 0];
        data.set([entry[0]!, entry[1]!, entry[2]!, entry[3] ?? 255], 4 * i);
      } else {
        const grey = channels < 3;
        data[4 * i] = at(0);
        data[4 * i + 1] = at(grey ? 0 : 1);
        data[4 * i + 2] = at(grey ? 0 : 2);
        data[4 * i + 3] = channels === 2 ? at(1) : channels === 4 ? at(3) : 255;
      }
    }
    return { width, height, data };
  }
  if (bytes[0] === 0xff && bytes[1] === 0xd8) {
    const { width, height, data } = jpeg.decode(bytes, {
      useTArray: true,
      maxMemoryUsageInMB: 1024,
      maxResolutionInMP: 300,
    });
    return { width, height, data };
  }
  throw new Error('it is neither PNG nor JPEG');
}

const LINEAR = Float32Array.from({ length: 256 }, (_, i) => srgbToLinear(i / 255));

function wrapped(i: number, size: number, wrap: Wrap): number {
  if (wrap === 'clamp') return i < 0 ? 0 : i >= size ? size - 1 : i;
  if (wrap === 'repeat') return ((i % size) + size) % size;
  const j = ((i % (2 * size)) + 2 * size) % (2 * size);
  return j < size ? j : 2 * size - 1 - j;
}

/**
 * Bilinear sample at (u, v), v downwards. Colour is linearised by the sRGB curve if `srgb`; data and alpha are not.
 * @param out r, g, b, alpha, each 0 to 1
 */
export function sampleTexture(t: Texture, u: number, v: number, srgb: boolean, out: Float64Array): void {
  const x = u * t.width - 0.5;
  const y = v * t.height - 0.5;
  const x0 = Math.floor(x);
  const y0 = Math.floor(y);
  const fx = x - x0;
  const fy = y - y0;
  out.fill(0);
  if (!(fx >= 0) || !(fy >= 0)) return;
  for (let k = 0; k < 4; k++) {
    const weight = (k & 1 ? fx : 1 - fx) * (k & 2 ? fy : 1 - fy);
    if (weight === 0) continue;
    const at =
      4 * (wrapped(y0 + (k >> 1), t.height, t.wrapT) * t.width + wrapped(x0 + (k & 1), t.width, t.wrapS));
    for (let c = 0; c < 3; c++) out[c]! += weight * (srgb ? LINEAR[t.data[at + c]!]! : t.data[at + c]! / 255);
    out[3]! += (weight * t.data[at + 3]!) / 255;
  }
}
