import { makeNumberedLayer } from '../../idlayers/numbered.ts';
import { BUFFER_LAYER } from '../object-buffer.ts';
import { nameOfNumber } from '../role.ts';
import { addCoverage, plainChannel, type RewriteKind } from './rewrite.ts';

/** A grey picture for each number; members of one number share it. */
export const asObjectBuffers: RewriteKind = {
  kind: 'object-buffers',
  label: 'Object buffers',
  write(_, index, members) {
    const byNumber = new Map<number, { name: string; plane: Float32Array }>();
    const planes = new Map<number, Float32Array>();
    for (const { name, id, number } of members) {
      const known = byNumber.get(number) ?? { name, plane: new Float32Array(index.width * index.height) };
      byNumber.set(number, known);
      planes.set(id, known.plane);
    }
    addCoverage(index, (id) => planes.get(id));
    const list = [...byNumber].map(([number, { name, plane }]) => ({
      channel: plainChannel(`buffer_${nameOfNumber(number)}.Y`, plane),
      name,
    }));
    return {
      channels: list.map((l) => l.channel),
      attributes: list.map(({ channel, name }) =>
        makeNumberedLayer({
          layer: BUFFER_LAYER,
          kind: 'object-buffer',
          members: [{ channel: channel.name, member: name }],
        }),
      ),
    };
  },
};
