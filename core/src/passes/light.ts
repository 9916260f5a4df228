import type { LightPart } from '../render/gather.ts';
import { layerOf, type PassKind } from './pass.ts';

const light = (kind: string, part: LightPart, label: string, hint: string): PassKind => {
  const layer = kind.replace('-', '_');
  return {
    kind,
    label,
    group: 'light',
    hint,
    fields: [],
    title: () => label,
    gather: () => ({ lightParts: true }),
    channels: () => ['R', 'G', 'B'].map((c) => ({ name: `${layer}.${c}`, type: 'chosen' as const })),
    make: (_, { film }, type) => ({
      channels: layerOf(layer, 'RGB', film.light([part]), type),
      attributes: [],
    }),
  };
};

/** Together they are the whole picture: added up they give the beauty. */
export const LIGHT_PASSES: readonly PassKind[] = [
  light(
    'diffuse-direct',
    'diffuseDirect',
    'Diffuse direct',
    'Light from the sources, scattered by the surface’s colour.',
  ),
  light(
    'diffuse-indirect',
    'diffuseIndirect',
    'Diffuse indirect',
    'Light that other surfaces throw on the surface.',
  ),
  light('specular-direct', 'specularDirect', 'Specular direct', 'Highlights of the sources.'),
  light('specular-indirect', 'specularIndirect', 'Specular indirect', 'Blurred reflections of other things.'),
  light('reflection', 'reflection', 'Reflection', 'What is seen in mirrors, polished metal and glass.'),
  light('refraction', 'refraction', 'Refraction', 'What is seen through glass.'),
  light('emission', 'emission', 'Emission', 'What surfaces shine by themselves.'),
  light('background', 'background', 'Background', 'What is seen where nothing is.'),
];
