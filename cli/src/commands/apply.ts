import { dirname } from 'node:path';
import { emptyMasks, exportKind, lackingForChanges, listedChanges } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { readChanges, variantId } from '../changes-file.ts';
import { CommandError, tellMissing } from '../fail.ts';
import { readPicture } from '../pictures.ts';
import { frameNumber, openVersion, targetKind, writeBytes, type OpenOptions } from '../files.ts';

/** `apply FILES…`: the corrected picture of a change list, as EXR with all other channels or as sRGB PNG. */
export async function applyCommand(
  files: string[],
  options: OpenOptions & {
    changes: string;
    out: string;
    depth?: string;
    half?: boolean;
    pictures?: string;
    variant?: string;
    strict?: boolean;
  },
): Promise<void> {
  const ending = targetKind(options.out, ['exr', 'png'] as const);
  if (options.depth !== undefined && !['8', '16'].includes(options.depth))
    throw new CommandError('--depth is 8 or 16.');
  const list = readChanges(options.changes);
  const state = { variant: variantId(list, options.variant), frame: frameNumber(files, options) };
  const open = await openVersion(files, options);
  const changes = listedChanges(list, state);
  tellMissing([...lackingForChanges(open, changes), ...emptyMasks(open, changes)], options.strict);
  const exr = options.half ? 'corrected-exr-half' : 'corrected-exr';
  const kind = ending === 'exr' ? exr : `corrected-png${options.depth ?? '16'}`;
  const bytes = await exportKind(kind)!.write(
    open,
    { list, ...state },
    {
      zlib: nodeZlib,
      onNote: (note) => process.stderr.write(`note: ${note}\n`),
      readPicture: ({ name }) => readPicture(options.pictures ?? dirname(options.changes), name),
    },
  );
  writeBytes(options.out, bytes);
}
