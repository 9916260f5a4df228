import { ExrError } from '../formats/exr/errors.ts';
import type { ReadOptions } from '../formats/exr/read.ts';
import type { ExrImage } from '../formats/exr/types.ts';
import { readerFor } from '../formats/registry.ts';
import { filesOfFrame, type VersionFile } from './frame-files.ts';
import { memoryNeeded } from './memory.ts';
import { mergeImages } from './merge.ts';
import { openPicture, type OpenPicture } from './open-picture.ts';
import { matchSidecars, type Sidecar } from './sidecars.ts';

/** A version's files cannot be used; the message is for the artist and names the file. */
export class VersionError extends Error {
  override name = 'VersionError';
}

export interface OpenFrameOptions extends Pick<ReadOptions, 'signal'> {
  /** Refuse frames that need more memory than this, in bytes, before it is taken. */
  maxMemory?: number;
  /** Called with the share of the work that is done, 0 to 1, and what is being done. */
  onProgress?: (share: number, what: 'loading' | 'decoding' | 'indexing') => void;
}

const gigabytes = (bytes: number) => `${(bytes / 2 ** 30).toFixed(1)} GB`;
/** Shares of the work: loading up to the first, decoding up to the second. */
const LOADED = 0.4;
const DECODED = 0.86;

/**
 * Opens one frame of a version: finds the files that make it, reads them, puts them together and gives every layer its
 * manifest. Browser, server and command line all come through here, so that a name means the same everywhere.
 * @param read bytes of a file of the version; told how much of it is there, 0 to 1
 * @param frame the first one by default
 * Throws {@link VersionError} for files that cannot be used.
 */
export async function openFrame<F extends VersionFile>(
  files: readonly F[],
  frame: number | undefined,
  read: (file: F, onShare: (share: number) => void) => Promise<Uint8Array>,
  options: OpenFrameOptions = {},
): Promise<OpenPicture> {
  const { pictures, sidecars } = filesOfFrame(files, frame);
  const { onProgress } = options;
  if (pictures.length === 0)
    throw new VersionError('There is no OpenEXR file among the files of this version.');
  const texts: Sidecar[] = [];
  for (const file of sidecars)
    texts.push({ name: file.name, text: new TextDecoder().decode(await read(file, () => undefined)) });

  const loaded: { file: F; bytes: Uint8Array }[] = [];
  let needed = 0;
  for (const [i, file] of pictures.entries()) {
    const bytes = await read(file, (share) =>
      onProgress?.((LOADED * (i + share)) / pictures.length, 'loading'),
    );
    needed += about(file, () => memoryNeeded(readerFor(bytes).header(bytes)));
    if (needed > (options.maxMemory ?? Infinity))
      throw new VersionError(
        `${file.name}: opening it would take ${gigabytes(needed)} of memory; ${gigabytes(options.maxMemory!)} are allowed. Save it smaller, or with fewer channels.`,
      );
    loaded.push({ file, bytes });
  }
  const known = new Map<string, string>();
  const images = loaded.map(({ file, bytes }, i): ExrImage => {
    const image = about(file, () =>
      readerFor(bytes).read(bytes, {
        ...(options.signal ? { signal: options.signal } : {}),
        maxBytes: Infinity,
        onProgress: (done) =>
          onProgress?.(LOADED + ((DECODED - LOADED) * (i + done)) / loaded.length, 'decoding'),
      }),
    );
    for (const [name, text] of matchSidecars(image.header, file.name, texts)) known.set(name, text);
    return image;
  });
  onProgress?.(DECODED, 'indexing');
  return openPicture(
    about(undefined, () => mergeImages(images)),
    known,
  );
}

/** Runs a piece of work on a file; what is wrong with the file is told with its name. */
function about<T>(file: VersionFile | undefined, work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof ExrError)
      throw new VersionError(`${file ? `${file.name}: ` : ''}${error.message}`, { cause: error });
    throw error;
  }
}
