import { asFloats } from '../../formats/exr/samples.ts';
import type { ExrChannel } from '../../formats/exr/types.ts';
import { compileGlob } from '../../picks/glob.ts';
import { floatsToHalves } from '../../planes/half.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { VersionError } from '../../version/version-error.ts';

type Depth = 'half' | 'float';
/** The depth that a channel is written with; undefined for its own. */
export type DepthOf = (channel: string) => Depth | undefined;

/**
 * Depths by channel from a text such as `normals.*=half, depth.Z=float`; of several that mean a channel the last one
 * counts. Throws VersionError where it means nothing.
 */
export function parseDepths(text: string): DepthOf {
  const rules = text
    .split(/[,;\n]/)
    .map((t) => t.trim())
    .filter(Boolean)
    .map((rule) => {
      const found = /^(\S.*?)\s*=\s*(half|float|16|32)$/.exec(rule);
      if (!found)
        throw new VersionError(
          `“${rule}” is no depth of channels. Write it as normals.*=half, depth.Z=float.`,
        );
      return {
        means: compileGlob(found[1]!),
        depth: (/16|half/.test(found[2]!) ? 'half' : 'float') as Depth,
      };
    });
  return (channel) => rules.findLast((r) => r.means(channel))?.depth;
}

/**
 * Channels in the depths that are wanted. Those of IDs stay as they are: other bits are other IDs.
 * Throws VersionError where such a one is to be made another.
 */
export function inDepths(
  { layers }: Pick<OpenPicture, 'layers'>,
  channels: readonly ExrChannel[],
  depthOf: DepthOf,
): ExrChannel[] {
  const ids = new Set(layers.flatMap((l) => (l.ranks ?? []).map((r) => r.id)));
  return channels.map((c) => {
    const type = depthOf(c.name);
    if (type === undefined || type === c.type) return c;
    if (ids.has(c.name))
      throw new VersionError(
        `${c.name} holds IDs. They mean something only as ${c.type}: take it out of the depths.`,
      );
    const floats = asFloats(c);
    return { ...c, type, data: type === 'half' ? floatsToHalves(floats) : floats };
  });
}
