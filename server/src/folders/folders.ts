import { createReadStream } from 'node:fs';
import { readdir, realpath, stat } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import type { Readable } from 'node:stream';
import type { FolderFile, FolderListing } from '../contract.ts';
import { ProblemError } from '../http/problem.ts';

/** Most files that are listed: more is not one delivery. */
const MOST_FILES = 20_000;

const refused = (path: string) =>
  new ProblemError(
    403,
    'This folder cannot be used.',
    `${path} is not there, or not inside a folder that was allowed when Zesty Crow was started (ZESTY_CROW_FOLDERS).`,
  );

/**
 * Where a path really is, links followed. Throws a {@link ProblemError} if that is not inside one of the roots: nobody
 * reads the rest of the machine.
 */
async function allowed(roots: readonly string[], path: string): Promise<string> {
  const real = await realpath(path).catch(() => undefined);
  if (real === undefined) throw refused(path);
  for (const root of roots) {
    const own = await realpath(root).catch(() => undefined);
    if (own !== undefined && (real === own || real.startsWith(own.endsWith(sep) ? own : own + sep)))
      return real;
  }
  throw refused(path);
}

async function filesUnder(folder: string, top: string, found: FolderFile[]): Promise<void> {
  const entries = await readdir(folder, { withFileTypes: true });
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const path = join(folder, entry.name);
    // Links may lead anywhere, and what is hidden is nobody's delivery.
    if (entry.name.startsWith('.') || entry.isSymbolicLink()) continue;
    if (entry.isDirectory()) await filesUnder(path, top, found);
    else if (entry.isFile()) {
      if (found.length === MOST_FILES)
        throw new ProblemError(
          413,
          'There are too many files.',
          `A folder of up to ${MOST_FILES} files can be brought in at once. Choose one further down.`,
        );
      found.push({ path: relative(top, path).split(sep).join('/'), size: (await stat(path)).size });
    }
  }
}

/** The folders in a folder, and all files under it. Without a path: the roots. */
export async function listFolder(
  roots: readonly string[],
  path: string | undefined,
  withFiles: boolean,
): Promise<FolderListing> {
  if (path === undefined) return { path: null, folders: [...roots], files: [] };
  const real = await allowed(roots, path);
  const entries = await readdir(real, { withFileTypes: true }).catch(() => {
    throw refused(path);
  });
  const folders = entries
    .filter((e) => e.isDirectory() && !e.name.startsWith('.'))
    .map((e) => join(real, e.name))
    .sort();
  const files: FolderFile[] = [];
  if (withFiles) await filesUnder(real, real, files);
  return { path: real, folders, files };
}

/**
 * The bytes of a file in an allowed folder. Throws a {@link ProblemError} for one outside, and for what is no file: a pipe
 * would never end.
 */
export async function readAllowed(roots: readonly string[], folder: string, path: string): Promise<Readable> {
  const real = await allowed(roots, join(await allowed(roots, folder), path));
  if (!(await stat(real)).isFile())
    throw new ProblemError(403, 'This is no file.', `${path} is a folder, a pipe or a device. Choose files.`);
  return createReadStream(real);
}
