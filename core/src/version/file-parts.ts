import type { ChannelInfo, ExrHeader } from '../formats/exr/types.ts';

/** A part of a file as it joins a frame: its header with the names that its channels have there, and their own names. */
export interface NamedPart {
  header: ExrHeader;
  /** Names in the file by names in the frame. */
  ownName: ReadonlyMap<string, string>;
}

/**
 * Names for the channels of the parts of one file. A channel without a layer of its own (`R`, `Z`) belongs to the layer
 * that its part is called, but for the first part that has colours: that is the picture. So `diffuse` with R, G and B
 * becomes `diffuse.R`, and `CryptoObject00` with R becomes `CryptoObject00.R`. Names that are taken get the part's name,
 * too, and if need be its number.
 */
export function nameParts(headers: readonly ExrHeader[]): NamedPart[] {
  if (headers.length === 1)
    return headers.map((header) => ({
      header,
      ownName: new Map(header.channels.map((c) => [c.name, c.name])),
    }));
  const has = (h: ExrHeader, name: string) => h.channels.some((c) => c.name === name);
  const picture = headers.findIndex((h) => ['R', 'G', 'B'].every((n) => has(h, n)));
  const taken = new Set<string>();
  return headers.map((header, i): NamedPart => {
    const part = header.name || `part ${i + 1}`;
    const ownName = new Map<string, string>();
    const channels = header.channels.map((c): ChannelInfo => {
      const plain = !c.name.includes('.') && i !== picture;
      // Where the part is called like the only channel that it has, nothing is gained by saying so twice.
      let name = plain && c.name !== part ? `${part}.${c.name}` : c.name;
      if (taken.has(name)) name = `${part}.${c.name}`;
      for (let n = 2; taken.has(name); n++) name = `${part} ${n}.${c.name}`;
      taken.add(name);
      ownName.set(name, c.name);
      return { ...c, name };
    });
    return { header: { ...header, channels }, ownName };
  });
}
