import type { Compression, Zlib } from './compression/compression.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import { ExrError } from './errors.ts';
import { writeHeader, writeVersion } from './header.ts';
import { lineBytes, sampledColumns, sampledRows } from './layout.ts';
import { portableZlib } from './portable-zlib.ts';
import { type Box2i, boxHeight, boxWidth } from '../../planes/box.ts';
import { type ExrAttribute, type ExrChannel, type ExrHeader, BYTES_PER_SAMPLE } from './types.ts';

export interface WriteInput {
  /** What the part is called; needed where there are several. */
  name?: string | undefined;
  dataWindow: Box2i;
  /** The data window by default. */
  displayWindow?: Box2i;
  /** Width of a pixel divided by its height. Default 1. */
  pixelAspectRatio?: number;
  channels: readonly ExrChannel[];
  /** Attributes to keep; structural ones are made anew from the other fields. */
  attributes?: readonly ExrAttribute[];
}

export interface WriteOptions {
  /** A name from the registry; default `zip`. */
  compression?: string;
  zlib?: Zlib | undefined;
  onProgress?: ((done: number) => void) | undefined;
  signal?: AbortSignal | undefined;
}

/** Names of the compressions that can be written. */
export const WRITABLE_COMPRESSIONS = COMPRESSIONS.filter((c) => c.encode).map((c) => c.name);

/** Byte order of names, as the file format sorts its channels. */
const byName = (a: { name: string }, b: { name: string }) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0);

/** A part that has been found sound, with all that it takes to pack it. */
interface Checked {
  header: ExrHeader;
  channels: ExrChannel[];
  compression: Compression;
  blocks: number;
}

/** Throws {@link ExrError} `invalid-input` if a channel does not fit the data window. */
function checked(input: WriteInput, name: string): Checked {
  const compression = COMPRESSIONS.find((c) => c.name === name);
  if (!compression?.encode)
    throw new ExrError(
      'invalid-input',
      `Compression "${name}" cannot be written. Choose one of ${WRITABLE_COMPRESSIONS.join(', ')}.`,
    );
  const box = input.dataWindow;
  if (boxWidth(box) < 1 || boxHeight(box) < 1)
    throw new ExrError('invalid-input', 'The data window is empty.');
  const channels = [...input.channels].sort(byName);
  if (channels.length === 0) throw new ExrError('invalid-input', 'There is no channel to write.');
  channels.forEach((c, i) => {
    if (c.data.length !== sampledColumns(c, box) * sampledRows(c, box))
      throw new ExrError('invalid-input', `Channel "${c.name}" does not have the size of the data window.`);
    if (c.data.BYTES_PER_ELEMENT !== BYTES_PER_SAMPLE[c.type])
      throw new ExrError('invalid-input', `Channel "${c.name}" does not hold ${c.type} samples.`);
    if (i > 0 && channels[i - 1]!.name === c.name)
      throw new ExrError('invalid-input', `There are two channels called "${c.name}".`);
    if (new TextEncoder().encode(c.name).length > 255 || c.name === '')
      throw new ExrError('invalid-input', `"${c.name.slice(0, 40)}" cannot be the name of a channel.`);
  });
  const header: ExrHeader = {
    ...(input.name === undefined ? {} : { name: input.name }),
    dataWindow: box,
    displayWindow: input.displayWindow ?? box,
    compression: name,
    lineOrder: 'increasing',
    pixelAspectRatio: input.pixelAspectRatio ?? 1,
    channels,
    attributes: [...(input.attributes ?? [])],
  };
  return { header, channels, compression, blocks: Math.ceil(boxHeight(box) / compression.linesPerBlock) };
}

/** Packs the blocks of a part, in the order of its lines. */
function* packed(
  { header, channels, compression }: Checked,
  zlib: Zlib,
): Generator<{ y: number; data: Uint8Array }> {
  const box = header.dataWindow;
  const sources = channels.map((c) => new Uint8Array(c.data.buffer, c.data.byteOffset, c.data.byteLength));
  const cursors = new Float64Array(channels.length);
  for (let y = box.yMin; y <= box.yMax; y += compression.linesPerBlock) {
    const yLast = Math.min(y + compression.linesPerBlock - 1, box.yMax);
    let size = 0;
    for (let line = y; line <= yLast; line++) size += lineBytes(channels, box, line);
    const raw = new Uint8Array(size);
    let to = 0;
    for (let line = y; line <= yLast; line++)
      channels.forEach((c, i) => {
        if (line % c.ySampling !== 0) return;
        const bytes = sampledColumns(c, box) * BYTES_PER_SAMPLE[c.type];
        raw.set(sources[i]!.subarray(cursors[i]!, cursors[i]! + bytes), to);
        cursors[i]! += bytes;
        to += bytes;
      });
    const data = compression.encode!(raw, { channels, dataWindow: box, yFirst: y, yLast }, zlib);
    yield { y, data: data.length < raw.length ? data : raw };
  }
}

/**
 * Writes an OpenEXR file of several parts in scan lines, rising, every channel in its own type. Each part has a name of
 * its own. Throws {@link ExrError} `invalid-input` for what does not fit.
 */
export function writeExrParts(
  inputs: readonly (WriteInput & { compression?: string })[],
  options: WriteOptions = {},
): Uint8Array {
  if (inputs.length === 0) throw new ExrError('invalid-input', 'There is no part to write.');
  const several = inputs.length > 1;
  const names = inputs.map((i) => i.name ?? '');
  if (several && (names.includes('') || new Set(names).size < names.length))
    throw new ExrError('invalid-input', 'Each part needs a name of its own.');
  const parts = inputs.map((input) => checked(input, input.compression ?? options.compression ?? 'zip'));
  const heads = parts.map((p) => writeHeader(p.header, p.compression.number, several ? p.blocks : undefined));
  const start = writeVersion(parts.map((p) => p.header));
  const all = parts.reduce((sum, p) => sum + p.blocks, 0);
  const tableAt = heads.reduce((sum, h) => sum + h.length, start.length) + (several ? 1 : 0);
  const blocks: Uint8Array[] = [];
  const starts: number[] = [];
  let at = tableAt + 8 * all;
  const extra = several ? 4 : 0;
  for (const [number, part] of parts.entries())
    for (const { y, data } of packed(part, options.zlib ?? portableZlib)) {
      if (options.signal?.aborted) throw options.signal.reason;
      const block = new Uint8Array(extra + 8 + data.length);
      const view = new DataView(block.buffer);
      if (several) view.setInt32(0, number, true);
      view.setInt32(extra, y, true);
      view.setInt32(extra + 4, data.length, true);
      block.set(data, extra + 8);
      starts.push(at);
      blocks.push(block);
      at += block.length;
      options.onProgress?.(blocks.length / all);
    }
  const file = new Uint8Array(at);
  let to = 0;
  for (const part of [start, ...heads]) {
    file.set(part, to);
    to += part.length;
  }
  const table = new DataView(file.buffer, tableAt);
  starts.forEach((place, i) => table.setBigUint64(8 * i, BigInt(place), true));
  blocks.forEach((block, i) => file.set(block, starts[i]));
  return file;
}

/**
 * Writes an OpenEXR file of one part in scan lines, rising, every channel in its own type.
 * Throws {@link ExrError} `invalid-input` if a channel does not fit the data window.
 */
export const writeExr = (input: WriteInput, options: WriteOptions = {}): Uint8Array =>
  writeExrParts([input], options);
