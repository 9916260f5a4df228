import { alone, readerFor, writeExrParts, WRITABLE_COMPRESSIONS, type ExrImage } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { statSync } from 'node:fs';
import { checkChannels, openVersion, readBytes, targetKind, writeBytes, type OpenOptions } from '../files.ts';

interface ConvertOptions extends OpenOptions {
  compression?: string;
  part?: string;
  channels?: string[];
}

const compressionFor = (asked: string | undefined, own: string): string =>
  // What loses something is read, and not written.
  asked ?? (WRITABLE_COMPRESSIONS.includes(own) ? own : 'zip');

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
