import {
  applyChanges,
  asFloats,
  parseChangeList,
  pictureToPng,
  withCorrected,
  writeExr,
  WRITABLE_COMPRESSIONS,
  type ChangeList,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { Failure } from '../fail.ts';
import { openFile, readBytes, targetKind, writeBytes } from '../files.ts';

function readChanges(path: string): ChangeList {
  const bytes = readBytes(path);
  try {
    return parseChangeList(JSON.parse(new TextDecoder().decode(bytes)));
  } catch (error) {
    throw new Failure(`${path} is not a change list: ${(error as Error).message}.`);
  }
}

/** `apply FILE`: the corrected picture of a change list, as EXR with all other channels or as sRGB PNG. */
export async function applyCommand(
  file: string,
  options: { changes: string; out: string; depth?: string },
): Promise<void> {
  const kind = targetKind(options.out, ['exr', 'png'] as const);
  if (options.depth !== undefined && !['8', '16'].includes(options.depth))
    throw new Failure('--depth is 8 or 16.');
  const list = readChanges(options.changes);
  const open = await openFile(file);
  const { planes, missing } = applyChanges(open, list.changes);
  for (const { change, member, layer } of missing)
    process.stderr.write(
      `note: "${change.words}" names "${member}" in ${layer}, which this picture does not have.\n`,
    );
  if (!open.beauty) throw new Failure(`${file} holds no picture, only data passes.`);
  const { header } = open.image;
  if (kind === 'exr') {
    const compression = WRITABLE_COMPRESSIONS.includes(header.compression) ? header.compression : 'zip';
    writeBytes(
      options.out,
      writeExr({ ...header, channels: withCorrected(open, planes) }, { compression, zlib: nodeZlib }),
    );
    return;
  }
  const alpha = open.image.channels.find((c) => c.name === open.beauty!.a);
  writeBytes(
    options.out,
    pictureToPng(planes, header, options.depth === '8' ? 8 : 16, alpha && asFloats(alpha)),
  );
}
