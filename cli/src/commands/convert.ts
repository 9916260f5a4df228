import {
  alone,
  asSlim,
  matchMembers,
  numbered,
  readerFor,
  REWRITES,
  rewriteLayers,
  writeExr,
  writeExrParts,
  WRITABLE_COMPRESSIONS,
  type ExrImage,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { statSync } from 'node:fs';
import {
  checkChannels,
  openVersion,
  openVersionFrame,
  readBytes,
  targetKind,
  writeBytes,
  type OpenOptions,
} from '../files.ts';

interface ConvertOptions extends OpenOptions {
  compression?: string;
  part?: string;
  channels?: string[];
  slim?: boolean;
  as?: string;
  layers?: string[];
  with?: string[];
  numbers?: string;
}

const compressionFor = (asked: string | undefined, own: string): string =>
  // What loses something is read, and not written.
  asked ?? (WRITABLE_COMPRESSIONS.includes(own) ? own : 'zip');

/** Numbers of members by name, as a JSON file gives them. */
function readNumbers(path: string | undefined): Record<string, number> {
  if (path === undefined) return {};
  const fail = (why: string) => new CommandError(`${path}: ${why}`);
  let read: unknown;
  try {
    read = JSON.parse(new TextDecoder().decode(readBytes(path)));
  } catch {
    throw fail('it is not valid JSON.');
  }
  const entries = Object.entries((read ?? {}) as object);
  if (Array.isArray(read) || entries.some(([, n]) => !Number.isInteger(n) || (n as number) < 1))
    throw fail('it must be an object from names to whole numbers from 1 on.');
  return Object.fromEntries(entries) as Record<string, number>;
}

/** ID layers in another form, or slim; everything else as it is. */
async function convertLayers(inputs: string[], output: string, options: ConvertOptions): Promise<void> {
  const form = options.as === undefined ? asSlim : REWRITES.find((r) => r.kind === options.as);
  if (!form) throw new CommandError(`--as is one of ${REWRITES.map((r) => r.kind).join(', ')}.`);
  if (options.as !== undefined && options.slim) throw new CommandError('Name --slim or --as, not both.');
  const frame = await openVersionFrame(inputs, options);
  const known = frame.layers.filter((l) => l.sound).map((l) => l.name);
  const lost = options.layers?.filter((l) => !known.includes(l)) ?? [];
  if (lost.length || known.length === 0)
    throw new CommandError(
      `There is no ID layer ${lost.join(', ')}. ${known.length ? `There are: ${known.join(', ')}.` : 'There is none.'}`,
    );
  const numbers = readNumbers(options.numbers);
  const { channels, attributes } = await rewriteLayers(
    frame,
    form,
    (l) => options.layers?.includes(l.name) ?? (options.as !== undefined || l.kind === 'cryptomatte'),
    (members) => {
      const chosen = options.with
        ? members.filter((m) => options.with!.some((pattern) => matchMembers(pattern, [m]).length > 0))
        : members;
      return numbered(chosen.map((m) => ({ ...m, number: numbers[m.name] })));
    },
  );
  const compression = compressionFor(options.compression, frame.header.compression);
  const bytes = writeExr({ ...frame.header, channels, attributes }, { compression, zlib: nodeZlib });
  writeBytes(output, bytes);
  const before = inputs.reduce(
    (sum, path) => sum + (statSync(path, { throwIfNoEntry: false })?.size ?? 0),
    0,
  );
  process.stdout.write(
    `${output}: ${bytes.length.toLocaleString('en')} bytes, ${before.toLocaleString('en')} before\n`,
  );
}

/** Several files, or a folder, or what an interpretation says of a file, as one picture of one part. */
async function convertVersion(inputs: string[], output: string, options: ConvertOptions): Promise<void> {
  if (options.part !== undefined) throw new CommandError('--part is for a single file.');
  const { image } = await openVersion(inputs, options);
  const names = options.channels;
  checkChannels(
    names,
    image.channels.map((c) => c.name),
  );
  const channels = image.channels.filter((c) => !names || names.includes(c.name));
  const compression = compressionFor(options.compression, image.header.compression);
  writeBytes(output, writeExrParts([{ ...image.header, channels, compression }], { zlib: nodeZlib }));
}

/**
 * `convert FILES… OUT`: reads a picture and writes it as EXR, every part, channel and attribute kept, or only some. Of
 * several files, or a folder, a frame becomes one file.
 */
export async function convertCommand(files: string[], options: ConvertOptions): Promise<void> {
  const output = files.at(-1)!;
  const inputs = files.slice(0, -1);
  const [input] = inputs;
  if (input === undefined) throw new CommandError('Name what to read, and last what to write.');
  targetKind(output, ['exr'] as const);
  if (options.slim || options.as !== undefined) return convertLayers(inputs, output, options);
  const many = inputs.length > 1 || statSync(input, { throwIfNoEntry: false })?.isDirectory();
  if (many || options.interpretation !== undefined || options.frame !== undefined)
    return convertVersion(inputs, output, options);
  const bytes = readBytes(input);
  const reader = readerFor(bytes);
  const { parts } = await reader.outline(bytes);
  const names = options.channels;
  const part = options.part === undefined ? undefined : Number(options.part);
  if (part !== undefined && !(Number.isInteger(part) && part >= 1 && part <= parts.length))
    throw new CommandError(
      parts.length === 1
        ? `${input} has one part. Leave out --part.`
        : `${input} has parts 1 to ${parts.length}: ${parts.map((p) => p.name ?? 'without a name').join(', ')}.`,
    );
  const wanted = parts.flatMap((header, i) => (part === undefined || i === part - 1 ? [{ header, i }] : []));
  const known = wanted.flatMap(({ header }) => header.channels.map((c) => c.name));
  checkChannels(names, known);
  const images: ExrImage[] = [];
  for (const { header, i } of wanted) {
    const own = (name: string) => !names || names.includes(name);
    if (header.channels.some((c) => own(c.name)))
      images.push(await reader.read(bytes, alone, { part: i, channels: (c) => own(c.name) }));
  }
  const converted = images.map(({ header, channels }) => ({
    ...header,
    channels,
    compression: compressionFor(options.compression, header.compression),
  }));
  writeBytes(output, writeExrParts(converted, { zlib: nodeZlib }));
}
