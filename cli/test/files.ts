import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readExr, type ExrImage } from '@zesty-crow/core';
import { samplePath, truth } from '../../core/test/fixtures/samples.ts';

const folder = mkdtempSync(join(tmpdir(), 'zesty-crow-cli-'));

/** Path of a file of this suite. */
export const at = (name: string): string => join(folder, name);

export const read = (name: string): ExrImage => readExr(new Uint8Array(readFileSync(at(name))));

/** Where a member of the samples is, exactly. */
export function exactPlane(member: string): Float32Array {
  const image = readExr(new Uint8Array(readFileSync(samplePath('truth_object_masks.exr'))));
  return image.channels.find((c) => c.name === truth.objects[member]!.channel)!.data as Float32Array;
}
