import { encodeCryptomatte } from '../idlayers/cryptomatte.ts';
import { BY_FIELDS, byFault, byLabel, byName, idsOf, isolatedBy, namesOf } from './by.ts';
import type { Field } from '../fields/field.ts';
import { numberOf, type PassKind, type Values } from './pass.ts';

export const RANKS_FIELD: Field = {
  kind: 'number',
  key: 'ranks',
  label: 'Ranks',
  unit: 'a pixel',
  min: 2,
  max: 16,
  step: 2,
  neutral: 6,
};
/** Ranks come in pairs, because a layer of the file holds two. */
export const ranksOf = (v: Values) => 2 * Math.ceil(numberOf(v, 'ranks', 6) / 2);

/** Channel names of a cryptomatte. */
export const cryptoChannels = (layer: string, ranks: number) =>
  Array.from({ length: ranks / 2 }, (_, i) =>
    ['R', 'G', 'B', 'A'].map((c) => ({
      name: `${layer}${String(i).padStart(2, '0')}.${c}`,
      type: 'float' as const,
    })),
  ).flat();

const layer = (v: Values) => `Crypto${byName(v)}`;

/** Every name at once, with soft edges, motion blur and transparency. */
export const cryptomatte: PassKind = {
  kind: 'cryptomatte',
  label: 'Cryptomatte',
  group: 'ids',
  hint: 'Isolates everything by name, with soft edges. Nothing has to be planned, but the file grows.',
  fields: [...BY_FIELDS, RANKS_FIELD],
  title: (v) => `Cryptomatte of ${byLabel(v)}`,
  gather: () => ({ ids: true }),
  channels: (v) => cryptoChannels(layer(v), ranksOf(v)),
  layer,
  isolates: (v, roster) => isolatedBy(namesOf(v, roster)),
  fault: byFault,
  make(v, source) {
    const { ids, manifest } = idsOf(v, source);
    return encodeCryptomatte(layer(v), source.film.ranks(ids, ranksOf(v)), manifest);
  },
};
