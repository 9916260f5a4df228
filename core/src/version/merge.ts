import { ExrError } from '../formats/exr/errors.ts';
import { plainMemory } from '../planes/tile-store.ts';
import { placeChannel } from './place.ts';
import type { ExrHeader, ExrImage } from '../formats/exr/types.ts';

/** Header of a frame that several files make, and which of them each channel comes from. */
export interface MergedHeader {
  header: ExrHeader;
  /** Number of the file that brings a channel. */
  fileOf: ReadonlyMap<string, number>;
}

/**
 * Puts the files of one frame together, and the parts of files: a picture and ID passes that were rendered into files of
 * their own. Windows and compression are those of `of`; a layer that a later file brings again replaces the earlier
 * one. Stored pixels may be others, as long as the frame is the same: {@link placeChannel} brings them to their places.
 * @param of which of them gives the frame, the first by default
 * Throws {@link ExrError} if the frames are not of the same size.
 */
export function mergeHeaders(headers: readonly ExrHeader[], of = 0): MergedHeader {
  const [first, ...others] = headers as [ExrHeader, ...ExrHeader[]];
  const channels = new Map(first.channels.map((c) => [c.name, c]));
  const fileOf = new Map(first.channels.map((c) => [c.name, 0]));
  if (others.length === 0) return { header: first, fileOf };
  const attributes = new Map(first.attributes.map((a) => [a.name, a]));
  const box = first.displayWindow;
  others.forEach((header, i) => {
    const b = header.displayWindow;
    if (b.xMin !== box.xMin || b.yMin !== box.yMin || b.xMax !== box.xMax || b.yMax !== box.yMax)
      throw new ExrError(
        'invalid-input',
        'The files of this version are not of the same size. ID passes must be rendered at the size of the picture.',
      );
    for (const c of header.channels) {
      channels.set(c.name, c);
      fileOf.set(c.name, i + 1);
    }
    for (const a of header.attributes)
      if (a.name.includes('/') || !attributes.has(a.name)) attributes.set(a.name, a);
  });
  return {
    header: {
      ...(headers[of] ?? first),
      ...missingOf(headers),
      channels: [...channels.values()].sort((a, b) => (a.name < b.name ? -1 : 1)),
      attributes: [...attributes.values()],
    },
    fileOf,
  };
}

/** What is missing in any of the files. */
function missingOf(headers: readonly ExrHeader[]): Pick<ExrHeader, 'missing'> {
  const missing = headers.flatMap((h) => h.missing ?? []);
  return missing.length ? { missing } : {};
}

/** The same of decoded files. */
export function mergeImages(images: readonly ExrImage[]): ExrImage {
  if (images.length === 1) return images[0]!;
  const { header, fileOf } = mergeHeaders(images.map((i) => i.header));
  return {
    header,
    channels: header.channels.map(({ name }) => {
      const image = images[fileOf.get(name)!]!;
      const channel = image.channels.find((c) => c.name === name)!;
      return placeChannel(channel, image.header.dataWindow, header.dataWindow, plainMemory);
    }),
  };
}
