import type { ExrChannel, ExrHeader, Samples } from '../../formats/exr/types.ts';
import { WRITABLE_COMPRESSIONS, type WriteInput } from '../../formats/exr/write.ts';
import type { Box2i } from '../../planes/box.ts';
import { sameBox } from '../../version/place.ts';
import type { Frame } from '../../version/frame.ts';
import { VersionError } from '../../version/version-error.ts';
import { placesIn } from '../raster/windows.ts';

/** A part that can be written, with its own compression. */
export type WrittenPart = WriteInput & { compression: string };

/** A channel with the pixels of a window. */
function cut(channel: ExrChannel, places: Int32Array): ExrChannel {
  const data = new (channel.data.constructor as new (length: number) => Samples)(places.length);
  for (let i = 0; i < places.length; i++) if (places[i]! >= 0) data[i] = channel.data[places[i]!]!;
  return { ...channel, data };
}

/** Channels of one window in another one. Throws VersionError for those that have fewer samples. */
export function inWindow(channels: readonly ExrChannel[], own: Box2i, window: Box2i): readonly ExrChannel[] {
  if (sameBox(own, window)) return channels;
  if (channels.some((c) => c.xSampling !== 1 || c.ySampling !== 1))
    throw new VersionError(
      'Channels of fewer samples cannot be cropped. Leave out the other channels, or choose the window with its overscan and no crop.',
    );
  const places = placesIn(own, window);
  return channels.map((c) => cut(c, places));
}

/** How a file is packed as its source was, or by zip where that cannot be written. */
export const ownCompression = ({ compression }: Pick<ExrHeader, 'compression'>): string =>
  WRITABLE_COMPRESSIONS.includes(compression) ? compression : 'zip';

const within = (a: Box2i, b: Box2i): Box2i => ({
  xMin: Math.max(a.xMin, b.xMin),
  yMin: Math.max(a.yMin, b.yMin),
  xMax: Math.min(a.xMax, b.xMax),
  yMax: Math.min(a.yMax, b.yMax),
});

/**
 * Channels of a frame sorted into the parts and files that they came from, each with its own name, windows, attributes
 * and compression. Channels that no file holds are left out.
 * @param channels in the frame's data window, by their names in the frame
 * @param wanted only what lies in this window
 * @param grey the picture's channel, in whose part channels go that are new
 */
export function sortedIntoParts(
  { parts, header }: Pick<Frame, 'parts' | 'header'>,
  channels: readonly ExrChannel[],
  wanted: Box2i,
  grey?: string,
): WrittenPart[] {
  const left = new Map(channels.map((c) => [c.name, c]));
  const taken = new Set<string>();
  const known = new Set(header.channels.map((c) => c.name));
  // A grey picture that was coloured has channels that are in no part: they go where the grey one came from.
  const fresh = channels.filter((c) => !known.has(c.name));
  const made = parts.flatMap((part): WrittenPart[] => {
    const own = [...part.ownName].flatMap(([inFrame, inFile]) => {
      const channel = left.get(inFrame);
      // What several files hold counts where it stands first.
      left.delete(inFrame);
      return channel ? [{ ...channel, name: inFile }] : [];
    });
    if (part.ownName.has(grey ?? '')) own.push(...fresh);
    const window = within(within(part.header.dataWindow, header.dataWindow), wanted);
    if (own.length === 0 || window.xMax < window.xMin || window.yMax < window.yMin) return [];
    const stem = part.header.name ?? part.name.replace(/\.[^.]*$/, '');
    let name = stem;
    for (let n = 2; taken.has(name); n++) name = `${stem}_${n}`;
    taken.add(name);
    return [
      {
        ...part.header,
        name,
        dataWindow: window,
        channels: inWindow(own, header.dataWindow, window),
        compression: ownCompression(part.header),
      },
    ];
  });
  if (made.length === 0) throw new VersionError('Nothing of the version lies in the crop.');
  return made;
}
