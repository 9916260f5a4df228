import type { Zlib } from './compression/compression.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import { ExrError } from './errors.ts';
import { writeHeader } from './header.ts';
import { lineBytes, sampledColumns, sampledRows } from './layout.ts';
import { portableZlib } from './portable-zlib.ts';
import { type Box2i, boxHeight, boxWidth } from '../../planes/box.ts';
import { type ExrAttribute, type ExrChannel, type ExrHeader, BYTES_PER_SAMPLE } from './types.ts';

export interface WriteInput {
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

/**
 * Writes a single-part scan-line OpenEXR file, lines in rising order, every channel in its own type.
 * Throws {@link ExrError} `invalid-input` if a channel does not fit the data window.
 */
export function writeExr(input: WriteInput, options: WriteOptions = {}): Uint8Array {
  const name = options.compression ?? 'zip';
  const compression = COMPRESSIONS.find((c) => c.name === name);
  if (!compression?.encode)
    throw new ExrError(
      'invalid-input',
      `Compression "${name}" cannot be written. Choose one of ${WRITABLE_COMPRESSIONS.join(', ')}.`,
    );
  const zlib = options.zlib ?? portableZlib;
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
    dataWindow: box,
    displayWindow: input.displayWindow ?? box,
    compression: name,
    lineOrder: 'increasing',
    pixelAspectRatio: input.pixelAspectRatio ?? 1,
    channels,
    attributes: [...(input.attributes ?? [])],
  };
  const head = writeHeader(header, compression.number);

  const sources = channels.map((c) => new Uint8Array(c.data.buffer, c.data.byteOffset, c.data.byteLength));
  const cursors = new Float64Array(channels.length);
  const blocks: Uint8Array[] = [];
  const starts: number[] = [];
  const count = Math.ceil(boxHeight(box) / compression.linesPerBlock);
  let at = head.length + 8 * count;
  for (let y = box.yMin; y <= box.yMax; y += compression.linesPerBlock) {
    if (options.signal?.aborted) throw options.signal.reason;
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
    const packed = compression.encode!(raw, { channels, dataWindow: box, yFirst: y, yLast }, zlib);
    const data = packed.length < raw.length ? packed : raw;
    const block = new Uint8Array(8 + data.length);
    const view = new DataView(block.buffer);
    view.setInt32(0, y, true);
    view.setInt32(4, data.length, true);
    block.set(data, 8);
    starts.push(at);
    blocks.push(block);
    at += block.length;
    options.onProgress?.(blocks.length / count);
  }
  const file = new Uint8Array(at);
  file.set(head);
  const table = new DataView(file.buffer, head.length);
  starts.forEach((start, i) => table.setBigUint64(8 * i, BigInt(start), true));
  blocks.forEach((block, i) => file.set(block, starts[i]));
  return file;
}
