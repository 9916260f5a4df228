import { encodeCryptomatte } from '../idlayers/cryptomatte.ts';
import type { ThroughSpec } from '../render/gather.ts';
import { BY_FIELDS, byFault, byLabel, byName, idsOf, isolatedBy, namesOf } from './by.ts';
import { cryptoChannels, RANKS_FIELD, ranksOf } from './cryptomatte.ts';
import { numberOf, textOf, type PassKind, type Values } from './pass.ts';

export const throughOf = (v: Values): ThroughSpec => ({
  way: textOf(v, 'way', 'refraction') === 'reflection' ? 'reflection' : 'refraction',
  depth: numberOf(v, 'depth', 1),
  roughness: numberOf(v, 'roughness', 0.3),
});

function layer(v: Values): string {
  const { way, depth } = throughOf(v);
  return `${way === 'refraction' ? 'Refracted' : 'Reflected'}${depth > 1 ? depth : ''}${byName(v)}`;
}

/** What is seen behind something transparent or in a mirror, as a further cryptomatte. */
export const throughGlass: PassKind = {
  kind: 'through-glass',
  label: 'Through-glass IDs',
  group: 'ids',
  hint: 'Isolates what is seen through glass or in a mirror: the honey in the jar, the lid in the brass.',
  fields: [
    {
      kind: 'choice',
      key: 'way',
      label: 'Seen',
      options: [
        { value: 'refraction', label: 'through transparent things' },
        { value: 'reflection', label: 'in reflections' },
      ],
      neutral: 'refraction',
    },
    {
      kind: 'number',
      key: 'depth',
      label: 'Depth',
      unit: 'things behind',
      min: 1,
      max: 8,
      step: 1,
      neutral: 1,
    },
    {
      kind: 'number',
      key: 'roughness',
      label: 'Roughest surface',
      unit: '0 to 1',
      min: 0,
      max: 1,
      step: 0.05,
      neutral: 0.3,
    },
    ...BY_FIELDS,
    RANKS_FIELD,
  ],
  title(v) {
    const { way, depth } = throughOf(v);
    const where = way === 'refraction' ? 'through glass' : 'in mirrors';
    const text = `${byLabel(v)} ${where}${depth > 1 ? `, ${depth} deep` : ''}`;
    return text.charAt(0).toUpperCase() + text.slice(1);
  },
  gather: (v) => ({ through: [throughOf(v)] }),
  channels: (v) => cryptoChannels(layer(v), ranksOf(v)),
  layer,
  isolates: (v, roster) => isolatedBy(namesOf(v, roster)),
  fault: byFault,
  make(v, source) {
    const { ids, manifest } = idsOf(v, source);
    return encodeCryptomatte(layer(v), source.film.ranks(ids, ranksOf(v), source.throughLayer), manifest);
  },
};
