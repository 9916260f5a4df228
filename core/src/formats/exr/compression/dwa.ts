import { halfTable, toHalf } from '../../../planes/half.ts';
import { ByteReader } from '../bytes.ts';
import { ExrError } from '../errors.ts';
import type { ChannelInfo } from '../types.ts';
import { blockPlanes, type BlockPlane } from './block-rows.ts';
import type { Compression, Zlib } from './compression.ts';
import { inverseCosine, ZIGZAG } from './dct.ts';
import { unhuff } from './piz-huffman.ts';
import { unshuffle } from './predictor.ts';
import { decodeRuns } from './rle.ts';

const damaged = () => new ExrError('damaged', 'A DWA block of the file cannot be unpacked.');

/** How the samples of a channel are stored. */
type Scheme = 'whole' | 'cosines' | 'runs';
const SCHEMES: readonly Scheme[] = ['whole', 'cosines', 'runs'];

/** Which channels are stored how: by the part of their name after the last dot, and their type. */
interface Rule {
  suffix: string;
  scheme: Scheme;
  /** 0 to 2 for what is red, green or blue of a colour that is stored as luma and chroma; -1 for others. */
  colour: number;
  anyCase: boolean;
  type: ChannelInfo['type'];
}

const TYPES = ['uint', 'half', 'float'] as const;

/** Rules of files that bring none of their own. */
const OLD_RULES: Rule[] = [
  ...(
    [
      ['r', 0],
      ['red', 0],
      ['g', 1],
      ['grn', 1],
      ['green', 1],
      ['b', 2],
      ['blu', 2],
      ['blue', 2],
    ] as const
  ).map(([suffix, colour]) => ({ suffix, colour })),
  ...['y', 'by', 'ry'].map((suffix) => ({ suffix, colour: -1 })),
].flatMap(({ suffix, colour }) =>
  (['half', 'float'] as const).map((type): Rule => ({
    suffix,
    scheme: 'cosines',
    colour,
    anyCase: true,
    type,
  })),
);
for (const type of TYPES) OLD_RULES.push({ suffix: 'a', scheme: 'runs', colour: -1, anyCase: true, type });

function readRules(r: ByteReader): Rule[] {
  const size = r.u8('a DWA block') | (r.u8('a DWA block') << 8);
  const end = r.at - 2 + size;
  const rules: Rule[] = [];
  while (r.at < end) {
    const suffix = r.text(128, 'a rule');
    const value = r.u8('a rule');
    const type = TYPES[r.u8('a rule')];
    const scheme = SCHEMES[(value >> 2) & 3];
    const colour = (value >> 4) - 1;
    if (!type || !scheme || colour > 2) throw damaged();
    rules.push({ suffix, scheme, colour, anyCase: (value & 1) === 1, type });
  }
  if (r.at !== end) throw damaged();
  return rules;
}

interface Stored extends BlockPlane {
  scheme: Scheme;
}

/** How each channel is stored, and which three are a colour. */
function classify(
  planes: readonly BlockPlane[],
  rules: readonly Rule[],
): { stored: Stored[]; colours: Stored[][] } {
  const groups = new Map<string, (Stored | undefined)[]>();
  const stored = planes.map((plane): Stored => {
    const { name, type } = plane.channel;
    const dot = name.lastIndexOf('.');
    const [prefix, suffix] = [name.slice(0, Math.max(0, dot)), name.slice(dot + 1)];
    const group = groups.get(prefix) ?? [];
    groups.set(prefix, group);
    const own: Stored = { ...plane, scheme: 'whole' };
    for (const rule of rules) {
      const same = rule.anyCase ? rule.suffix.toLowerCase() === suffix.toLowerCase() : rule.suffix === suffix;
      if (!same || rule.type !== type) continue;
      own.scheme = rule.scheme;
      if (rule.colour >= 0) group[rule.colour] = own;
    }
    return own;
  });
  const colours = [...groups.values()].flatMap((group): Stored[][] => {
    const [r, g, b] = group;
    const alike = r && g && b && [g, b].every((c) => c.columns === r.columns && c.rows === r.rows);
    return alike ? [[r, g, b]] : [];
  });
  return { stored, colours };
}

let linear: Uint16Array | undefined;
/** Halves as they are stored, bent for the eye, back to linear: a power of 2.2, above 1 an exponential. */
function toLinear(): Uint16Array {
  linear ??= Uint16Array.from(halfTable(), (v) => {
    if (!Number.isFinite(v)) return 0;
    const f = Math.abs(v);
    return toHalf(Math.sign(v) * (f <= 1 ? f ** 2.2 : Math.E ** (2.2 * (f - 1))));
  });
  return linear;
}

/** Words of the cosine transform, in the order in which blocks take them. */
interface Words {
  ac: Uint16Array;
  dc: Uint16Array;
  acAt: number;
  dcAt: number;
}

/** Reads the coefficients of one block. */
function takeBlock(words: Words, first: number, block: Float32Array): void {
  const values = halfTable();
  block.fill(0);
  block[0] = values[first]!;
  for (let n = 1; n < 64;) {
    if (words.acAt >= words.ac.length) throw damaged();
    const word = words.ac[words.acAt++]!;
    if (word === 0xff00) return;
    // A run of nothing.
    if (word >> 8 === 0xff) n += word & 0xff;
    else block[ZIGZAG[n++]!] = values[word]!;
  }
}

/** One channel, or the three of a colour, from the cosine transform. */
function fromCosines(channels: readonly Stored[], words: Words, raw: DataView): void {
  const [{ columns, rows }] = channels as [Stored];
  const [across, down] = [Math.ceil(columns / 8), Math.ceil(rows / 8)];
  const count = across * down;
  const { dcAt } = words;
  words.dcAt += count * channels.length;
  if (words.dcAt > words.dc.length) throw damaged();
  const blocks = channels.map(() => new Float32Array(64));
  const values = halfTable();
  for (let by = 0, n = 0; by < down; by++)
    for (let bx = 0; bx < across; bx++, n++) {
      blocks.forEach((block, k) => {
        takeBlock(words, words.dc[dcAt + k * count + n]!, block);
        inverseCosine(block);
      });
      if (channels.length === 3) {
        const [y, cb, cr] = blocks as [Float32Array, Float32Array, Float32Array];
        for (let i = 0; i < 64; i++) {
          const [l, b, r] = [y[i]!, cb[i]!, cr[i]!];
          y[i] = l + 1.5747 * r;
          cb[i] = l - 0.1873 * b - 0.4682 * r;
          cr[i] = l + 1.8556 * b;
        }
      }
      channels.forEach(({ channel, starts }, k) => {
        // A colour is always bent; a channel by itself unless it is perceptually linear already.
        const own = channels.length === 3 || !channel.pLinear ? toLinear() : undefined;
        for (let y = 0; y < 8 && 8 * by + y < rows; y++)
          for (let x = 0; x < 8 && 8 * bx + x < columns; x++) {
            const half = toHalf(blocks[k]![8 * y + x]!);
            const value = own ? own[half]! : half;
            const at = starts[8 * by + y]!;
            if (channel.type === 'half') raw.setUint16(at + 2 * (8 * bx + x), value, true);
            else raw.setFloat32(at + 4 * (8 * bx + x), values[value]!, true);
          }
      });
    }
}

/** Samples whose bytes stand in planes, one for each byte. */
function fromRuns(
  { starts, columns, rows, bytes, rowBytes }: Stored,
  runs: Uint8Array,
  raw: Uint8Array,
): void {
  const size = rowBytes / columns;
  const plane = bytes / size;
  for (let y = 0, n = 0; y < rows; y++)
    for (let x = 0; x < columns; x++, n++)
      for (let k = 0; k < size; k++) raw[starts[y]! + x * size + k] = runs[k * plane + n]!;
}

function decode(
  data: Uint8Array,
  size: number,
  planes: readonly BlockPlane[],
  zlib: Pick<Zlib, 'inflate'>,
): Uint8Array {
  const r = new ByteReader(data);
  const sizes = Array.from({ length: 11 }, () => r.u64('a DWA block'));
  const [
    version,
    wholeSize,
    wholePacked,
    acPacked,
    dcPacked,
    runsPacked,
    runsCoded,
    runsSize,
    acCount,
    dcCount,
    acCode,
  ] = sizes as [number, number, number, number, number, number, number, number, number, number, number];
  // Nothing of a block can be larger than what it claims to hold.
  if (
    wholeSize > size ||
    runsSize > size ||
    runsCoded > 2 * size + 64 ||
    acCount > 2 * size + 64 ||
    dcCount > size + 64
  )
    throw damaged();
  const { stored, colours } = classify(planes, version >= 2 ? readRules(r) : OLD_RULES);
  const unzip = (bytes: Uint8Array, count: number): Uint8Array => {
    if (count === 0) return new Uint8Array(0);
    try {
      const out = zlib.inflate(bytes, count);
      if (out.length === count) return out;
    } catch {
      // Told below.
    }
    throw damaged();
  };
  const whole = unzip(r.take(wholePacked, 'a DWA block'), wholeSize);
  const acBytes = r.take(acPacked, 'a DWA block');
  const dcBytes = r.take(dcPacked, 'a DWA block');
  const ofBytes = (bytes: Uint8Array) => new Uint16Array(bytes.slice().buffer);
  const words: Words = {
    ac:
      acCount === 0
        ? new Uint16Array(0)
        : acCode === 0
          ? unhuff(acBytes, acCount)
          : ofBytes(unzip(acBytes, 2 * acCount)),
    dc: ofBytes(unshuffle(unzip(dcBytes, 2 * dcCount))),
    acAt: 0,
    dcAt: 0,
  };
  const runs = decodeRuns(unzip(r.take(runsPacked, 'a DWA block'), runsCoded), runsSize);

  const raw = new Uint8Array(size);
  const view = new DataView(raw.buffer);
  const inColour = new Set(colours.flat());
  for (const three of colours) fromCosines(three, words, view);
  let [wholeAt, runsAt] = [0, 0];
  for (const plane of stored) {
    if (inColour.has(plane)) continue;
    if (plane.scheme === 'cosines') fromCosines([plane], words, view);
    else if (plane.scheme === 'runs') {
      if (runsAt + plane.bytes > runs.length) throw damaged();
      fromRuns(plane, runs.subarray(runsAt, runsAt + plane.bytes), raw);
      runsAt += plane.bytes;
    } else
      for (const start of plane.starts) {
        if (wholeAt + plane.rowBytes > whole.length) throw damaged();
        raw.set(whole.subarray(wholeAt, wholeAt + plane.rowBytes), start);
        wholeAt += plane.rowBytes;
      }
  }
  return raw;
}

const dwaOf = (name: string, number: number, linesPerBlock: number): Compression => ({
  name,
  number,
  linesPerBlock,
  // By the rules that files bring with them; these are the ones that everyone writes.
  loses: (c) => c.type !== 'uint' && /(^|\.)(r|g|b|y|by|ry|red|grn|green|blu|blue)$/i.test(c.name),
  decode: (data, size, layout, zlib) => decode(data, size, blockPlanes(layout), zlib),
});

/**
 * Colours as luma and chroma in cosines of 8 by 8 pixels, bent for the eye and thinned out; alpha in runs of bytes;
 * everything else through zlib as it is. Lossy, for colours only. Blocks of 32 lines.
 */
export const dwaa = dwaOf('dwaa', 8, 32);
/** The same in blocks of 256 lines. */
export const dwab = dwaOf('dwab', 9, 256);
