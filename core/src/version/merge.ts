import { ExrError } from '../formats/exr/errors.ts';
import type { ExrImage } from '../formats/exr/types.ts';

/**
 * Puts the files of one frame together: a picture and ID passes that were rendered into files of their own. Windows
 * and compression are the first one's; a layer that a later file brings again replaces the earlier one.
 * Throws {@link ExrError} if the files are not of the same size.
 */
export function mergeImages(images: readonly ExrImage[]): ExrImage {
  const [first, ...others] = images as [ExrImage, ...ExrImage[]];
  if (others.length === 0) return first;
  const channels = new Map(first.channels.map((c) => [c.name, c]));
  const attributes = new Map(first.header.attributes.map((a) => [a.name, a]));
  const box = first.header.dataWindow;
  for (const { header, channels: more } of others) {
    const b = header.dataWindow;
    if (b.xMin !== box.xMin || b.yMin !== box.yMin || b.xMax !== box.xMax || b.yMax !== box.yMax)
      throw new ExrError(
        'invalid-input',
        'The files of this version are not of the same size. ID passes must be rendered at the size of the picture.',
      );
    for (const c of more) channels.set(c.name, c);
    for (const a of header.attributes)
      if (a.name.includes('/') || !attributes.has(a.name)) attributes.set(a.name, a);
  }
  const list = [...channels.values()].sort((a, b) => (a.name < b.name ? -1 : 1));
  return {
    header: {
      ...first.header,
      channels: list.map(({ name, type, xSampling, ySampling, pLinear }) => ({
        name,
        type,
        xSampling,
        ySampling,
        pLinear,
      })),
      attributes: [...attributes.values()],
    },
    channels: list,
  };
}
