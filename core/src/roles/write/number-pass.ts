import { makeNumberedLayer } from '../../idlayers/numbered.ts';
import { eachPixel } from './ranks.ts';
import { plainChannel, type RewriteKind } from './rewrite.ts';

/** One whole number a pixel: that of what covers most of it, 0 where nothing covers more than what is left. */
export const asNumberPass: RewriteKind = {
  kind: 'number-pass',
  label: 'Number pass',
  loses: 'Soft edges are lost; they can be rebuilt nearly.',
  write(layer, index, members) {
    const numberOf = new Map(members.map((m) => [m.id, m.number]));
    const plane = new Float32Array(index.width * index.height);
    eachPixel(index, (p, { count, ids, coverage }) => {
      let [most, number, sum] = [0, 0, 0];
      for (let i = 0; i < count; i++) {
        const own = numberOf.get(ids[i]!);
        if (own === undefined) continue;
        sum += coverage[i]!;
        if (coverage[i]! > most) [most, number] = [coverage[i]!, own];
      }
      // What is left of the pixel is nothing's.
      if (most >= 1 - sum) plane[p] = number;
    });
    const channel = `${layer}Number.Y`;
    const byNumber = new Map(members.map((m) => [m.number, m.name]));
    return {
      channels: [plainChannel(channel, plane)],
      attributes: [
        makeNumberedLayer({
          layer: `Numbers of ${layer}`,
          kind: 'number-pass',
          members: [...byNumber].map(([value, member]) => ({ channel, member, value })),
        }),
      ],
    };
  },
};
