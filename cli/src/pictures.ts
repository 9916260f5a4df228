import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { CommandError } from './fail.ts';

/** A picture that a change list lays into the picture: by its name, in one folder. */
export async function readPicture(folder: string, name: string): Promise<Uint8Array> {
  // Only its last part: a list from elsewhere names no other folder.
  const path = join(folder, basename(name));
  try {
    return new Uint8Array(await readFile(path));
  } catch {
    throw new CommandError(
      `The change list lays the picture ${name} into this one, but there is no ${path}. Say where it is with --pictures.`,
    );
  }
}
