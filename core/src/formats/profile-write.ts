/** How values of a profile become light: by sRGB's curve, or by a power. */
export interface ProfileKind {
  /** What it calls itself. */
  name: string;
  curve: 'srgb' | number;
}

const fixed = (v: number) => Math.round(v * 65536);
const pad4 = (n: number) => (4 - (n % 4)) % 4;

/** Rec. 709 primaries and white, adapted to D50 by Bradford, as the connection space wants them (IEC 61966-2-1, ICC.1:2022). */
const XYZ = {
  wtpt: [0.9642, 1, 0.82491],
  rXYZ: [0.43607, 0.22249, 0.01392],
  gXYZ: [0.38515, 0.71687, 0.09708],
  bXYZ: [0.14307, 0.06061, 0.7141],
} as const;

const ascii = (text: string) => Uint8Array.from(text, (c) => c.charCodeAt(0));

/** A tag's content of some 32-bit numbers after its type. */
function numbers(type: string, values: readonly number[], lead: readonly number[] = []): Uint8Array {
  const out = new Uint8Array(8 + 2 * lead.length + 4 * values.length);
  const view = new DataView(out.buffer);
  out.set(ascii(type));
  lead.forEach((v, i) => view.setUint16(8 + 2 * i, v));
  values.forEach((v, i) => view.setInt32(8 + 2 * lead.length + 4 * i, v));
  return out;
}
/** Text in one language, as UTF-16. */
function localised(text: string): Uint8Array {
  const out = new Uint8Array(28 + 2 * text.length);
  const view = new DataView(out.buffer);
  out.set(ascii('mluc'));
  view.setUint32(8, 1);
  view.setUint32(12, 12);
  out.set(ascii('enUS'), 16);
  view.setUint32(20, 2 * text.length);
  view.setUint32(24, 28);
  for (let i = 0; i < text.length; i++) view.setUint16(28 + 2 * i, text.charCodeAt(i));
  return out;
}

/**
 * An ICC profile of version 4 for pictures in Rec. 709 primaries: a matrix and one curve for all channels (ICC.1:2022, 8.3).
 */
export function iccProfile({ name, curve }: ProfileKind): Uint8Array {
  const trc =
    curve === 'srgb'
      ? numbers('para', [2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045].map(fixed), [3, 0])
      : numbers('para', [fixed(curve)], [0, 0]);
  const tags: [string, Uint8Array][] = [
    ['desc', localised(name)],
    ['cprt', localised('No rights reserved')],
    ...Object.entries(XYZ).map(([key, v]): [string, Uint8Array] => [key, numbers('XYZ ', v.map(fixed))]),
    ...['rTRC', 'gTRC', 'bTRC'].map((key): [string, Uint8Array] => [key, trc]),
  ];
  const start = 128 + 4 + 12 * tags.length;
  const size = tags.reduce((at, [, data]) => at + data.length + pad4(data.length), start);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  view.setUint32(0, size);
  view.setUint32(8, 0x04400000);
  out.set(ascii('mntrRGB XYZ '), 12);
  // When it was made is always the same, so that equal pictures are equal files.
  [2026, 1, 1].forEach((v, i) => view.setUint16(24 + 2 * i, v));
  out.set(ascii('acsp'), 36);
  XYZ.wtpt.forEach((v, i) => view.setInt32(68 + 4 * i, fixed(v)));
  view.setUint32(128, tags.length);
  let at = start;
  tags.forEach(([key, data], i) => {
    out.set(ascii(key), 132 + 12 * i);
    view.setUint32(136 + 12 * i, at);
    view.setUint32(140 + 12 * i, data.length);
    out.set(data, at);
    at += data.length + pad4(data.length);
  });
  return out;
}
