import { alone, readerFor, writeExrParts, WRITABLE_COMPRESSIONS, type ExrImage } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { readBytes, targetKind, writeBytes } from '../files.ts';

interface ConvertOptions {
  compression?: string;
  part?: string;
  channels?: string[];
}

/** `convert IN OUT`: reads a picture and writes it as EXR, every part, channel and attribute kept, or only some. */
export async function convertCommand(input: string, output: string, options: ConvertOptions): Promise<void> {
  targetKind(output, ['exr'] as const);
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
  const lost = names?.filter((n) => !known.includes(n)) ?? [];
  if (lost.length)
    throw new CommandError(`There is no channel ${lost.join(', ')}. There are: ${known.join(', ')}.`);
  const images: ExrImage[] = [];
  for (const { header, i } of wanted) {
    const own = (name: string) => !names || names.includes(name);
    if (header.channels.some((c) => own(c.name)))
      images.push(await reader.read(bytes, alone, { part: i, channels: (c) => own(c.name) }));
  }
  const converted = images.map(({ header, channels }) => ({
    ...header,
    channels,
    // What loses something is read, and not written.
    compression:
      options.compression ??
      (WRITABLE_COMPRESSIONS.includes(header.compression) ? header.compression : 'zip'),
  }));
  writeBytes(output, writeExrParts(converted, { zlib: nodeZlib }));
}
