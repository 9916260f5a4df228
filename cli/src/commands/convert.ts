import { writeExr } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { readImage, targetKind, writeBytes } from '../files.ts';

/** `convert IN OUT`: reads a file and writes it again, every channel and attribute kept. */
export function convertCommand(input: string, output: string, options: { compression?: string }): void {
  targetKind(output, ['exr'] as const);
  const image = readImage(input);
  const compression = options.compression ?? image.header.compression;
  writeBytes(
    output,
    writeExr({ ...image.header, channels: image.channels }, { compression, zlib: nodeZlib }),
  );
}
