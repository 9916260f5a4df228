import { castOf } from '../cast/cast.ts';
import type { ExrAttribute, ExrChannel } from '../formats/exr/types.ts';
import { withoutCryptomatte } from '../idlayers/cryptomatte.ts';
import { isListOf } from '../idlayers/numbered.ts';
import { numbered, type RewriteKind, type WrittenMember } from '../roles/write/rewrite.ts';
import type { Frame } from './frame.ts';

/** A picture whose ID layers were written in another way. */
export interface RewrittenPicture {
  channels: ExrChannel[];
  attributes: ExrAttribute[];
}

/**
 * A frame's channels with some ID layers written in another form, in the place of what they were.
 * @param choose which members are written, and with which numbers; all by default
 */
export async function rewriteLayers(
  frame: Frame,
  kind: RewriteKind,
  wanted: (layer: Frame['layers'][number]) => boolean,
  choose: (members: readonly { name: string; id: number }[]) => WrittenMember[] = numbered,
): Promise<RewrittenPicture> {
  const layers = frame.layers.filter((l) => l.sound && wanted(l));
  const indexes = await frame.indexes(layers);
  const gone = new Set<string>();
  const written: RewrittenPicture = { channels: [], attributes: [] };
  const names = new Set<string>();
  layers.forEach((layer, i) => {
    // Names that are not seen here may be in another frame, and stay in the list.
    const named = [...layer.manifest.nameOf].map(([id, name]) => ({ id, name }));
    const known = new Set(named.map((m) => m.id));
    const more = castOf(layer, indexes[i]!).members.filter((m) => m.id !== 0 && !known.has(m.id));
    const members = choose([...named, ...more]);
    const own = kind.write(layer.name, indexes[i]!, members);
    for (const c of layer.channels) gone.add(c);
    for (const c of own.channels) if (!names.has(c.name)) written.channels.push(c);
    for (const c of own.channels) names.add(c.name);
    written.attributes.push(...own.attributes);
  });
  const kept = await frame.channels((n) => !gone.has(n) && !names.has(n));
  const left = layers.reduce<readonly ExrAttribute[]>(
    (list, l) => withoutCryptomatte(list, l.name),
    frame.header.attributes.filter((a) => !layers.some((l) => isListOf(a, l.channels))),
  );
  const again = new Set(written.attributes.map((a) => a.name));
  return {
    channels: [...kept, ...written.channels].sort((a, b) => (a.name < b.name ? -1 : 1)),
    attributes: [...left.filter((a) => !again.has(a.name)), ...written.attributes],
  };
}
