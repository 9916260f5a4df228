import { sourcesOf } from '../render/light-sources.ts';
import { layerOf, type PassKind } from './pass.ts';

/** Layers by the sources' names: what no channel may be called is left out, and every name is there once. */
function layersOf(sources: readonly string[]): string[] {
  const taken = new Set<string>();
  return sources.map((name) => {
    const plain = `lamp_${name.replace(/[^\p{L}\p{N}]+/gu, '_').slice(0, 60)}`;
    let layer = plain;
    for (let n = 2; taken.has(layer); n++) layer = `${plain}_${n}`;
    taken.add(layer);
    return layer;
  });
}

/** What each lamp and sun, the sky, and all that shines give to the picture: together they are the beauty. */
export const lampsPass: PassKind = {
  kind: 'lamps',
  label: 'Light of each lamp',
  group: 'light',
  hint: 'What each lamp, the sky and all that shines give to the picture: their amounts and tints can be set afterwards.',
  fields: [],
  title: () => 'Light of each lamp',
  gather: () => ({ lamps: true }),
  channels: (_, roster) =>
    layersOf(['sky', 'shining', ...roster.lamps]).flatMap((layer) =>
      ['R', 'G', 'B'].map((c) => ({ name: `${layer}.${c}`, type: 'chosen' as const })),
    ),
  make: (_, { film }, type) => ({
    channels: layersOf(sourcesOf(film.scene)).flatMap((layer, i) =>
      layerOf(layer, 'RGB', film.lamp(i), type),
    ),
    attributes: [],
  }),
};
