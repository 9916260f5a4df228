import { nameOfNumber, oneChannel, PIECES, wordsOf, type ObjectBufferUse, type RoleKind } from './role.ts';

export const BUFFER_LAYER = 'Object buffers';
const WORDS = new Set(['buffer', 'objbuffer', 'objectbuffer', 'matbuffer', 'mask', 'matte', 'coverage']);

/** One grey picture a number: its values are the coverage. */
export const objectBuffer: RoleKind<ObjectBufferUse> = {
  role: 'object-buffer',
  label: 'Object buffer',
  purpose: 'A grey picture: how much of each pixel one thing covers.',
  schema: {
    required: ['role'],
    properties: {
      role: { const: 'object-buffer' },
      channel: PIECES.channel,
      number: { type: 'integer', minimum: 0, maximum: 1e9 },
      name: PIECES.text,
    },
  },
  proposes({ name, channels }) {
    const plain = channels.filter((c) => !/(^|\.)A$/.test(c.name));
    const words = wordsOf(name);
    const number = [...words].reverse().find((w) => /^\d+$/.test(w));
    // Grey is saved as colour, too: with a number it is one mask all the same.
    const grey = plain.length === 1 || (plain.length === 3 && number !== undefined);
    if (!grey || !words.some((w) => WORDS.has(w))) return undefined;
    return { role: 'object-buffer', ...(number === undefined ? {} : { number: Number(number) }) };
  },
  members(layer, { channel, number, name }) {
    const own = oneChannel(layer, channel);
    const member = name || (number === undefined ? layer.name : nameOfNumber(number));
    return {
      layer: BUFFER_LAYER,
      kind: 'object-buffer',
      members: [{ channel: own?.name ?? `${layer.name}.${channel ?? 'Y'}`, member }],
    };
  },
};
