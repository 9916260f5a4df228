import { ByteReader, ByteWriter } from './bytes.ts';
import { COMPRESSIONS } from './compression/registry.ts';
import { ExrError } from './errors.ts';
import type { Box2i } from '../../planes/box.ts';
import { blocksInTable, blocksOf } from './block-count.ts';
import { stringAttribute } from './attributes.ts';
import {
  type ChannelInfo,
  type ExrAttribute,
  type ExrHeader,
  type TileLayout,
  PIXEL_TYPES,
} from './types.ts';

export const MAGIC = 20000630;
const LINE_ORDERS = ['increasing', 'decreasing', 'random'] as const;
const FLAG_TILED = 0x200;
const FLAG_LONG_NAMES = 0x400;
const FLAG_DEEP = 0x800;
const FLAG_MULTIPART = 0x1000;

/** Attributes the writer makes itself from the header's fields. */
export const STRUCTURAL = new Set([
  'channels',
  'compression',
  'dataWindow',
  'displayWindow',
  'lineOrder',
  'pixelAspectRatio',
  'screenWindowCenter',
  'screenWindowWidth',
  'chunkCount',
  'tiles',
  'type',
  'name',
  'version',
]);

function readBox(value: Uint8Array, name: string): Box2i {
  const r = new ByteReader(value);
  const box = { xMin: r.i32(name), yMin: r.i32(name), xMax: r.i32(name), yMax: r.i32(name) };
  if (box.xMax < box.xMin || box.yMax < box.yMin)
    throw new ExrError('damaged', `The ${name} of the file is empty or turned inside out.`);
  return box;
}

function readChannels(value: Uint8Array): ChannelInfo[] {
  const r = new ByteReader(value);
  const channels: ChannelInfo[] = [];
  for (;;) {
    const name = r.text(255, 'a channel name');
    if (name === '') break;
    const type = PIXEL_TYPES[r.i32('a channel')];
    if (!type) throw new ExrError('damaged', `Channel "${name}" has an unknown sample type.`);
    const pLinear = r.u8('a channel') !== 0;
    r.take(3, 'a channel');
    const xSampling = r.i32('a channel');
    const ySampling = r.i32('a channel');
    if (xSampling < 1 || ySampling < 1 || xSampling > 1024 || ySampling > 1024)
      throw new ExrError('damaged', `Channel "${name}" has an impossible sampling rate.`);
    channels.push({ name, type, pLinear, xSampling, ySampling });
  }
  if (channels.length === 0) throw new ExrError('damaged', 'The file has no channels.');
  if (new Set(channels.map((c) => c.name)).size !== channels.length)
    throw new ExrError('damaged', 'The file has two channels of the same name.');
  return channels;
}

const DEEP = 'Deep data cannot be read: it has no single colour a pixel. Flatten it where it was made.';

/** One part of a file: what its header says, and where its blocks are listed. */
export interface ExrPart {
  /** Its number in the file. */
  index: number;
  header: ExrHeader;
  /** Where the table of its blocks begins, and how many entries it has. */
  tableAt: number;
  blocks: number;
}
/** What stands before the pixels of a file. */
export interface ExrFile {
  parts: ExrPart[];
  /** True if blocks say which part they belong to. */
  multiPart: boolean;
  /** Where the tables end, and blocks begin. */
  end: number;
  /** Parts that cannot be read, and why. */
  refused: { name: string; reason: string }[];
  /** How the blocks of each part are laid out, by its number. */
  tiled: boolean[];
}

/** Attributes up to the empty name that ends a header. */
function readAttributes(r: ByteReader, nameLimit: number): ExrAttribute[] {
  const attributes: ExrAttribute[] = [];
  for (;;) {
    const name = r.text(nameLimit, 'an attribute name');
    if (name === '') return attributes;
    const type = r.text(nameLimit, 'an attribute type');
    const size = r.i32(`attribute "${name}"`);
    // A copy: attributes outlive the file's bytes, which may be shared memory.
    attributes.push({ name, type, value: r.take(size, `attribute "${name}"`).slice() });
  }
}

type Required = (name: string, type: string, size?: number) => Uint8Array;
const requiredOf =
  (attributes: readonly ExrAttribute[]): Required =>
  (name, type, size) => {
    const found = attributes.find((a) => a.name === name);
    if (!found) throw new ExrError('damaged', `The header lacks "${name}".`);
    if (found.type !== type || (size !== undefined && found.value.length !== size))
      throw new ExrError('damaged', `The header's "${name}" is not of the right type.`);
    return found.value;
  };

function readTiles(required: Required): TileLayout {
  const r = new ByteReader(required('tiles', 'tiledesc', 9));
  const [width, height, mode] = [r.u32('tiles'), r.u32('tiles'), r.u8('tiles')];
  const levels = (['one', 'mip', 'rip'] as const)[mode & 15];
  if (!levels || width < 1 || height < 1 || width > 2 ** 24 || height > 2 ** 24)
    throw new ExrError('damaged', 'The tiles of the file have an impossible size.');
  return { width, height, levels, roundUp: mode >> 4 === 1 };
}

function readHeader(attributes: ExrAttribute[], tiled: boolean): ExrHeader {
  const required = requiredOf(attributes);
  const compressionNumber = required('compression', 'compression', 1)[0]!;
  const compression = COMPRESSIONS.find((c) => c.number === compressionNumber);
  if (!compression)
    throw new ExrError(
      'unsupported',
      `The file's compression (number ${compressionNumber}) is not known. Save it with ZIP or PIZ.`,
    );
  const lineOrder = LINE_ORDERS[required('lineOrder', 'lineOrder', 1)[0]!];
  if (!lineOrder) throw new ExrError('damaged', 'The line order of the file is unknown.');
  const name = stringAttribute(attributes, 'name');
  return {
    ...(name === undefined ? {} : { name }),
    dataWindow: readBox(required('dataWindow', 'box2i', 16), 'data window'),
    displayWindow: readBox(required('displayWindow', 'box2i', 16), 'display window'),
    compression: compression.name,
    lineOrder,
    ...(tiled ? { tiles: readTiles(required) } : {}),
    pixelAspectRatio: new ByteReader(required('pixelAspectRatio', 'float', 4)).f32('pixelAspectRatio'),
    channels: readChannels(required('channels', 'chlist')).map((c) =>
      compression.loses?.(c) ? { ...c, lossy: true } : c,
    ),
    attributes,
  };
}

/**
 * Reads everything that stands before the pixels: the headers of all parts, and where their blocks are listed. Deep
 * parts are passed over and told; a file with nothing else is refused. Throws {@link ExrError}.
 */
export function readFile(bytes: Uint8Array): ExrFile {
  if (bytes.length < 8 || new DataView(bytes.buffer, bytes.byteOffset).getInt32(0, true) !== MAGIC)
    throw new ExrError('not-exr', 'This is not an OpenEXR file.');
  const r = new ByteReader(bytes, 4);
  const version = r.i32('the version field');
  if ((version & 0xff) !== 2)
    throw new ExrError('unsupported', `OpenEXR file format ${version & 0xff} is not known.`);
  const nameLimit = version & FLAG_LONG_NAMES ? 255 : 31;
  const multiPart = (version & FLAG_MULTIPART) !== 0;
  const all: ExrAttribute[][] = [];
  do {
    const attributes = readAttributes(r, nameLimit);
    // An empty header ends the list of a file of several parts.
    if (attributes.length === 0 && multiPart) break;
    all.push(attributes);
  } while (multiPart);
  if (all.length === 0) throw new ExrError('damaged', 'The file has no parts.');

  const file: ExrFile = { parts: [], multiPart, end: 0, refused: [], tiled: [] };
  let at = r.at;
  all.forEach((attributes, index) => {
    const type = stringAttribute(attributes, 'type') ?? '';
    const deep = multiPart ? type.startsWith('deep') : (version & FLAG_DEEP) !== 0;
    const tiled = multiPart ? type.startsWith('tiled') || type === 'deeptile' : (version & FLAG_TILED) !== 0;
    file.tiled.push(tiled);
    const header = deep ? undefined : readHeader(attributes, tiled);
    const stated = attributes.find((a) => a.name === 'chunkCount' && a.type === 'int')?.value;
    const blocks =
      header && (!multiPart || !stated)
        ? blocksInTable(header)
        : stated?.length === 4
          ? new ByteReader(stated).i32('chunkCount')
          : -1;
    // A deep file of one part has nothing that could be read.
    if (!multiPart && deep) throw new ExrError('unsupported', DEEP);
    if (blocks < 0 || (header && blocks < blocksOf(header)))
      throw new ExrError('damaged', 'The header does not say how many blocks there are.');
    if (header) file.parts.push({ index, header, tableAt: at, blocks });
    else
      file.refused.push({ name: stringAttribute(attributes, 'name') ?? `part ${index + 1}`, reason: DEEP });
    at += 8 * blocks;
    if (at > bytes.length)
      throw new ExrError(
        'truncated',
        'The file ends before its table of lines. It was not written completely.',
      );
  });
  file.end = at;
  if (file.parts.length === 0) throw new ExrError('unsupported', DEEP);
  return file;
}

/** What stands at the very beginning of a file with these parts. */
export function writeVersion(headers: readonly ExrHeader[]): Uint8Array {
  const utf8 = new TextEncoder();
  const names = headers.flatMap((h) => [
    ...h.channels.map((c) => c.name),
    ...h.attributes.flatMap((a) => [a.name, a.type]),
  ]);
  const long = names.some((n) => utf8.encode(n).length > 31);
  const flags = (long ? FLAG_LONG_NAMES : 0) | (headers.length > 1 ? FLAG_MULTIPART : 0);
  return new ByteWriter()
    .i32(MAGIC)
    .i32(2 | flags)
    .done();
}

/**
 * The bytes of a header as the file wants them; channels must be sorted by name already.
 * @param blocks how many blocks there are, which a file of several parts says
 */
export function writeHeader(header: ExrHeader, compressionNumber: number, blocks?: number): Uint8Array {
  const w = new ByteWriter();
  const attribute = (name: string, type: string, value: Uint8Array) =>
    w.text(name).text(type).i32(value.length).raw(value);
  const box = (b: Box2i) => new ByteWriter().i32(b.xMin).i32(b.yMin).i32(b.xMax).i32(b.yMax).done();
  const string = (value: string) => new TextEncoder().encode(value);

  const chlist = new ByteWriter();
  for (const c of header.channels) {
    chlist.text(c.name).i32(PIXEL_TYPES.indexOf(c.type));
    chlist.u8(c.pLinear ? 1 : 0).raw(new Uint8Array(3));
    chlist.i32(c.xSampling).i32(c.ySampling);
  }
  attribute('channels', 'chlist', chlist.u8(0).done());
  attribute('compression', 'compression', Uint8Array.of(compressionNumber));
  attribute('dataWindow', 'box2i', box(header.dataWindow));
  attribute('displayWindow', 'box2i', box(header.displayWindow));
  attribute('lineOrder', 'lineOrder', Uint8Array.of(0));
  attribute('pixelAspectRatio', 'float', new ByteWriter().f32(header.pixelAspectRatio).done());
  attribute('type', 'string', string('scanlineimage'));
  if (header.name !== undefined) attribute('name', 'string', string(header.name));
  if (blocks !== undefined) attribute('chunkCount', 'int', new ByteWriter().i32(blocks).done());
  const kept = (name: string, type: string, fallback: Uint8Array) =>
    attribute(name, type, header.attributes.find((a) => a.name === name)?.value ?? fallback);
  kept('screenWindowCenter', 'v2f', new Uint8Array(8));
  kept('screenWindowWidth', 'float', new ByteWriter().f32(1).done());
  for (const a of header.attributes) if (!STRUCTURAL.has(a.name)) attribute(a.name, a.type, a.value);
  return w.u8(0).done();
}
