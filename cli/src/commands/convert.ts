import { alone, readerFor, writeExr, WRITABLE_COMPRESSIONS, type ExrImage } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { readBytes, targetKind, writeBytes } from '../files.ts';

interface ConvertOptions {
  compression?: string;
  part?: string;
  channels?: string[];
}

/** `convert IN OUT`: reads a picture and writes it as EXR, every channel and attribute kept, or only some. */
export async function convertCommand(input: string, output: string, options: ConvertOptions): Promise<void> {
  targetKind(output, ['exr'] as const);
  const bytes = readBytes(input);
  const reader = readerFor(bytes);
  const { parts } = await reader.outline(bytes);
  const part = Number(options.part ?? 1);
  if (!(Number.isInteger(part) && part >= 1 && part <= parts.length))
    throw new CommandError(
      parts.length === 1
        ? `${input} has one part. Leave out --part.`
        : `${input} has parts 1 to ${parts.length}: ${parts.map((p) => p.name ?? 'without a name').join(', ')}.`,
    );
  const names = options.channels;
  const known = parts[part - 1]!.channels.map((c) => c.name);
  const lost = names?.filter((n) => !known.includes(n)) ?? [];
  if (lost.length)
    throw new CommandError(`There is no channel ${lost.join(', ')}. There are: ${known.join(', ')}.`);
  const image: ExrImage = await reader.read(bytes, alone, {
    part: part - 1,
    channels: (c) => !names || names.includes(c.name),
  });
  // What loses something is read, and not written.
  const own = image.header.compression;
  const compression = options.compression ?? (WRITABLE_COMPRESSIONS.includes(own) ? own : 'zip');
  writeBytes(
    output,
    writeExr({ ...image.header, channels: image.channels }, { compression, zlib: nodeZlib }),
  );
}
