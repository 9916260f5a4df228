import { srgbToLinear } from '../colour/srgb.ts';
import type { Mending } from '../findings/finding.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { WRITABLE_COMPRESSIONS, writeExrParts } from '../formats/exr/write.ts';
import type { Zlib } from '../formats/exr/compression/compression.ts';
import { boxHeight, boxWidth } from '../planes/box.ts';
import type { Frame } from '../version/frame.ts';
import type { FramePart } from '../version/part-reader.ts';
import { MendError, type MendPart } from './mend.ts';
import { withValues } from './kinds/of-values.ts';
import { MENDINGS } from './registry.ts';

/** A file as it is after mending: what takes the place of which file. */
export interface MendedFile {
  /** Name of the file that is mended. */
  replaces: string;
  name: string;
  bytes: Uint8Array;
  /** What was done, for people. */
  done: string;
}

/**
 * Mends the file of a frame that holds what a mending means, and gives the bytes of a new one: OpenEXR with every part,
 * channel and attribute of the old one but what is mended. Nothing is written. Throws {@link MendError} if it is spread
 * over several files, or of no kind that is known.
 */
export async function mendFile(
  frame: Frame,
  mending: Mending,
  { zlib, signal }: { zlib?: Zlib; signal?: AbortSignal } = {},
): Promise<MendedFile> {
  const kind = MENDINGS.find((k) => k.what === mending.what);
  if (!kind) throw new MendError(`There is no remedy called "${mending.what}".`);
  const names = kind.channels(mending, frame.header);
  const home = frame.partOfChannels(names);
  if (names.length === 0 || !home)
    throw new MendError(`${mending.layer} is not in one file of this version; it cannot be written anew.`);
  const all = frame.parts.filter((p) => p.name === home.name);
  const written = [];
  for (const part of all) written.push(await readPart(frame, part, signal));
  const at = all.indexOf(home);
  const own = written[at]!;
  if (kind.light)
    own.channels = own.channels.map((c) =>
      c.encoding === 'display' ? withValues(c, asFloats(c).map(srgbToLinear)) : c,
    );
  const box = own.header.dataWindow;
  const mended = kind.apply(own, {
    mending,
    names: names.map((n) => home.ownName.get(n)!),
    width: boxWidth(box),
    height: boxHeight(box),
  });
  written[at] = {
    header: { ...own.header, attributes: mended.attributes ?? own.header.attributes },
    channels: mended.channels,
  };
  const bytes = writeExrParts(
    written.map(({ header, channels }) => ({
      ...header,
      channels: [...channels].sort((a, b) => (a.name < b.name ? -1 : 1)),
      compression: WRITABLE_COMPRESSIONS.includes(header.compression) ? header.compression : 'zip',
    })),
    { ...(zlib ? { zlib } : {}), ...(signal ? { signal } : {}) },
  );
  const name = home.name.replace(/\.\w+$/, '.exr');
  return { replaces: home.name, name, bytes, done: `${mending.layer} ${kind.done}` };
}

async function readPart(frame: Frame, part: FramePart, signal?: AbortSignal): Promise<MendPart> {
  const { header, channels } = await part.reader.read(part.bytes, frame.crew, {
    part: part.part,
    maxBytes: Infinity,
    ...(signal ? { signal } : {}),
  });
  return { header, channels };
}
