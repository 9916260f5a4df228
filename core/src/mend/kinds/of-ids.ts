import {
  decodeCryptomatte,
  encodeCryptomatte,
  findCryptomattes,
  withoutCryptomatte,
} from '../../idlayers/cryptomatte.ts';
import { buildIdIndex } from '../../idindex/id-index.ts';
import { parseManifest } from '../../idlayers/manifest.ts';
import type { ExrChannel } from '../../formats/exr/types.ts';
import { slimRanks } from '../../roles/write/slim.ts';
import { MendError, type MendKind, type MendPart, type MendTask } from '../mend.ts';

/** The cryptomatte that a mending means, as the part's own header describes it. */
function layerOf({ header }: MendPart, { mending: { layer } }: MendTask) {
  const info = findCryptomattes(header).find((i) => i.name === layer);
  if (!info) throw new MendError(`${layer} is in no file of its own; it cannot be written anew.`);
  return info;
}

const channelsOf: MendKind['channels'] = ({ layer }, header) =>
  findCryptomattes(header)
    .filter((i) => i.name === layer)
    .flatMap((i) => i.ranks.flatMap((r) => [r.id, r.coverage]));

/** The same IDs in as few ranks and bits as they need. */
export const slim: MendKind = {
  what: 'slim',
  done: 'holds only what its IDs need.',
  channels: channelsOf,
  apply(part, task) {
    const info = layerOf(part, task);
    const { width, height } = task;
    const planes = slimRanks(buildIdIndex(decodeCryptomatte(info, part.channels, { width, height })));
    const names =
      info.manifest === undefined
        ? []
        : [...parseManifest(info.manifest).nameOf].map(([id, name]) => [name, id] as const);
    const written = encodeCryptomatte(info.name, planes, names);
    // Channels keep the names that they had: a prefix, or letters of another kind.
    const renamed = written.channels.map((c, i): ExrChannel => {
      const rank = info.ranks[i >> 1];
      return { ...c, name: rank ? (i % 2 ? rank.coverage : rank.id) : c.name };
    });
    const gone = new Set(info.ranks.flatMap((r) => [r.id, r.coverage]));
    const kept =
      info.manifest === undefined
        ? part.header.attributes
        : withoutCryptomatte(part.header.attributes, info.name);
    return {
      channels: [...part.channels.filter((c) => !gone.has(c.name)), ...renamed],
      attributes: info.manifest === undefined ? kept : [...kept, ...written.attributes],
    };
  },
};

/** IDs that were stored as integers are the bits of the floats that they should be. */
export const idsFromIntegers: MendKind = {
  what: 'ids-from-integers',
  done: 'holds its IDs as 32-bit float.',
  channels: channelsOf,
  apply(part, task) {
    const ids = new Set(layerOf(part, task).ranks.map((r) => r.id));
    return {
      channels: part.channels.map((c) =>
        ids.has(c.name) && c.data instanceof Uint32Array
          ? { ...c, type: 'float', data: new Float32Array(c.data.buffer, c.data.byteOffset, c.data.length) }
          : c,
      ),
    };
  },
};
