import type { ExrHeader, ChannelInfo } from '../formats/exr/types.ts';
import { BYTES_PER_SAMPLE } from '../formats/exr/types.ts';
import { isCryptomatteChannel } from '../idlayers/cryptomatte.ts';
import type { DescribedLayer } from '../idlayers/load.ts';
import type { BeautyChannels } from '../version/beauty.ts';
import { layerKindOf, layerOfChannel, type PassDisplay } from '../version/layer-kinds.ts';

/** One pass of a frame on the wall: what it is, and of which channels it is made. */
export interface WallPass {
  /** Name of its layer; of the picture itself `picture`. */
  name: string;
  /** What it is, in a word or two. */
  label: string;
  /** What it is for, in a line. */
  purpose: string;
  shownAs: PassDisplay;
  channels: string[];
  /** Types and numbers of its channels, for people: `3 × half`. */
  types: string;
  /** Layer of its channels, as an interpretation names it. */
  layer: string;
  /** True if its values were made for a screen. */
  display: boolean;
  /** Its part of all samples of the frame, before they are packed. */
  share: number;
}

const LETTERS = [
  'R',
  'G',
  'B',
  'A',
  'X',
  'Y',
  'Z',
  'r',
  'g',
  'b',
  'a',
  'x',
  'y',
  'z',
  'red',
  'green',
  'blue',
  'alpha',
];
/** Layer by layer, and in each as people say it: red, green, blue, alpha. */
const byLetter = (a: string, b: string) => {
  const [layerA, layerB] = [a, b].map((n) => n.slice(0, n.lastIndexOf('.') + 1)) as [string, string];
  if (layerA !== layerB) return layerA < layerB ? -1 : 1;
  const rank = (n: string) => LETTERS.indexOf(n.slice(n.lastIndexOf('.') + 1));
  return rank(a) - rank(b) || (a < b ? -1 : 1);
};

function typesOf(channels: readonly ChannelInfo[]): string {
  const counts = new Map<string, number>();
  for (const { type, bits, derived } of channels) {
    if (derived) continue;
    const name = bits === undefined || bits === 32 ? type : `${bits} bits`;
    counts.set(name, (counts.get(name) ?? 0) + 1);
  }
  return [...counts].map(([type, n]) => `${n} × ${type}`).join(', ');
}

/** All passes of a frame: the picture, then ID layers, then the others by their names. Every channel is in one of them. */
export function wallOf(
  header: Pick<ExrHeader, 'channels'>,
  beauty: BeautyChannels | undefined,
  layers: readonly DescribedLayer[],
): WallPass[] {
  const bytesOf = (c: ChannelInfo) =>
    c.derived ? 0 : BYTES_PER_SAMPLE[c.type] / (c.xSampling * c.ySampling);
  const total = header.channels.reduce((sum, c) => sum + bytesOf(c), 0);
  const left = new Map(header.channels.map((c) => [c.name, c]));
  const passes: WallPass[] = [];
  const add = (
    name: string,
    names: readonly string[],
    what: Pick<WallPass, 'label' | 'purpose' | 'shownAs'>,
  ) => {
    const own = names.flatMap((n) => left.get(n) ?? []);
    if (own.length === 0) return;
    for (const n of names) left.delete(n);
    const share = own.reduce((sum, c) => sum + bytesOf(c), 0) / total;
    const { label, purpose, shownAs } = what;
    passes.push({
      name,
      label,
      purpose,
      shownAs,
      channels: own.map((c) => c.name),
      types: typesOf(own),
      layer: layerOfChannel(own[0]!.name),
      display: own[0]!.encoding === 'display',
      share,
    });
  };
  if (beauty)
    add('picture', [...new Set([beauty.r, beauty.g, beauty.b])].concat(beauty.a ?? []), {
      label: 'Picture',
      purpose: 'The finished render: what is corrected.',
      shownAs: 'light',
    });
  for (const layer of layers) {
    const own = [...left.keys()].filter(
      (n) => layer.channels.includes(n) || layer.sources?.includes(n) || isCryptomatteChannel(layer.info, n),
    );
    add(layer.name, own.sort(byLetter), { ...ID_KINDS[layer.kind], shownAs: 'ids' });
  }
  const groups = new Map<string, string[]>();
  for (const name of left.keys()) {
    const layer = layerOfChannel(name);
    groups.set(layer, [...(groups.get(layer) ?? []), name]);
  }
  for (const [layer, names] of groups) add(layer, names.sort(byLetter), layerKindOf(layer, names.length));
  return passes;
}

const ID_KINDS: Record<DescribedLayer['kind'], Pick<WallPass, 'label' | 'purpose'>> = {
  cryptomatte: {
    label: 'Cryptomatte',
    purpose: 'Names everything in the picture, with soft edges: pick from it.',
  },
  'object-buffer': {
    label: 'Object buffers',
    purpose: 'A mask for each number, with soft edges: pick from them.',
  },
  'puzzle-matte': {
    label: 'Puzzle matte',
    purpose: 'Three masks in one picture, in red, green and blue: pick from them.',
  },
  'channel-mask': { label: 'Masks of channels', purpose: 'Made here from other passes: pick from them.' },
  'flat-colour': {
    label: 'Flat colours',
    purpose: 'A colour for each thing, its mixed edges taken apart: pick from it.',
  },
  'number-pass': { label: 'Number pass', purpose: 'A whole number a pixel, edges rebuilt: pick from it.' },
};
