import { coloursAttribute } from '../roles/write/flat-colour.ts';
import { farColours } from '../colour/far-colours.ts';
import { isolatedBy, namesOf } from './by.ts';
import { layerOf, textOf, type PassKind, type Values } from './pass.ts';

const of = (v: Values) => (textOf(v, 'of', 'objects') === 'materials' ? 'material' : 'object');
const outlined = (v: Values) => v['outline'] === true;
const layer = (v: Values) => `flat_${of(v)}${outlined(v) ? '_outlined' : ''}`;

/** Every thing in one unlit colour; the colours are data, 8 bits each, as far apart as they can be. */
export const flatColour: PassKind = {
  kind: 'flat-colour',
  label: 'Flat colours',
  group: 'ids',
  hint: 'Every thing in one colour of its own, for programs that pick by colour.',
  fields: [
    {
      kind: 'choice',
      key: 'of',
      label: 'Colours of',
      options: [
        { value: 'objects', label: 'objects' },
        { value: 'materials', label: 'materials' },
      ],
      neutral: 'objects',
    },
    { kind: 'switch', key: 'outline', label: 'Dark outline between things', neutral: false },
  ],
  title: (v) => `Flat colours of ${of(v)}s${outlined(v) ? ', outlined' : ''}`,
  gather: () => ({ ids: true }),
  channels: (v) => ['R', 'G', 'B'].map((c) => ({ name: `${layer(v)}.${c}`, type: 'float' as const })),
  layer,
  isolates: (v, roster) => isolatedBy(namesOf({ by: of(v) }, roster)),
  memberColours: (_, members) => farColours(members.length).map(([r, g, b]) => [r / 255, g / 255, b / 255]),
  make(v, { film, roster, place }) {
    const names = namesOf({ by: of(v) }, roster).map((n) => n!);
    const unique = [...new Set(names)];
    const colours = new Map(farColours(unique.length).map((c, i) => [unique[i]!, c]));
    const planes = film.mix(
      place.map((p) =>
        p < 0 ? [0, 0, 0] : (colours.get(names[p]!)!.map((c) => c / 255) as [number, number, number]),
      ),
    );
    if (outlined(v)) {
      const number = new Map(unique.map((n, i) => [n, i + 1]));
      const front = film.dominant(Float32Array.from(place, (p) => number.get(names[p]!) ?? 0));
      const { width, height } = film;
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          const p = y * width + x;
          const edge =
            (x + 1 < width && front[p] !== front[p + 1]) || (y + 1 < height && front[p] !== front[p + width]);
          if (edge) for (const plane of planes) plane[p] = 0;
        }
    }
    const list = Object.fromEntries([...colours].map(([name, c]) => [name, c]));
    return {
      channels: layerOf(layer(v), 'RGB', planes, 'float'),
      attributes: [coloursAttribute(layer(v), list)],
    };
  },
};
