import { realpath } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { FolderError, isWithin, thereOf } from '@zesty-crow/core/node';

/**
 * Where a parcel's folder is, on this machine. Throws {@link FolderError} if it is not inside one of the roots that were
 * allowed, links followed; it need not be there yet.
 */
export async function folderWithin(roots: readonly string[], folder: string): Promise<string> {
  const path = resolve(folder);
  // The part of it that is there already decides where it really is.
  const there = await thereOf(path);
  const real = join(await realpath(there), path.slice(there.length));
  for (const root of roots) {
    const own = await realpath(root).catch(() => undefined);
    if (own !== undefined && isWithin(own, real)) return real;
  }
  throw new FolderError(
    roots.length
      ? `${folder} is not inside a folder that was allowed when Zesty Crow was started (ZESTY_CROW_HAND_OVER).`
      : 'No folder was allowed when Zesty Crow was started. Set ZESTY_CROW_HAND_OVER, or download the parcel.',
  );
}
