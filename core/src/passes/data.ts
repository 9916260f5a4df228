import { SURFACE, type Gather } from '../render/gather.ts';
import type { Field } from '../fields/field.ts';
import { layerOf, numberOf, type PassKind, type PassSource, type Values } from './pass.ts';

/** A data pass: one layer of channels, half or float as chosen. */
function data(
  pass: Pick<PassKind, 'kind' | 'label' | 'hint'> & {
    layer: string;
    letters: string;
    fields?: readonly Field[];
    gather: (v: Values) => Partial<Gather>;
    planes: (v: Values, source: PassSource) => Float32Array[];
  },
): PassKind {
  const { layer, letters, fields = [], planes, ...rest } = pass;
  return {
    ...rest,
    group: 'data',
    fields,
    title: () => pass.label,
    channels: () => [...letters].map((c) => ({ name: `${layer}.${c}`, type: 'chosen' as const })),
    make: (v, source, type) => ({
      channels: layerOf(layer, letters, planes(v, source), type),
      attributes: [],
    }),
  };
}

const surface = () => ({ surface: true });

export const alpha = data({
  kind: 'alpha',
  label: 'Alpha',
  hint: 'How much of a pixel something covers, as a pass of its own.',
  layer: 'alpha',
  letters: 'Y',
  gather: () => ({}),
  planes: (_, { film }) => [film.alpha()],
});

export const ambientOcclusion = data({
  kind: 'ambient-occlusion',
  label: 'Ambient occlusion',
  hint: 'Dark where other surfaces are near. Costs one more ray a sample.',
  layer: 'occlusion',
  letters: 'Y',
  fields: [
    {
      kind: 'number',
      key: 'distance',
      label: 'Maximum distance',
      unit: 'scene units',
      min: 0.0001,
      max: 1e6,
      step: 0.1,
      neutral: 0.2,
    },
  ],
  gather: (v) => ({ occlusion: numberOf(v, 'distance', 0.2) }),
  planes: (_, { film }) => [film.occlusion()],
});

export const depth = data({
  kind: 'depth',
  label: 'Depth',
  hint: 'Distance along the view: in scene units, or from 0 at near to 1 at far. Nothing there counts as far.',
  layer: 'depth',
  letters: 'Z',
  fields: [
    {
      kind: 'number',
      key: 'near',
      label: 'Near',
      unit: 'scene units',
      min: 0,
      max: 1e6,
      step: 0.1,
      neutral: 0,
    },
    {
      kind: 'number',
      key: 'far',
      label: 'Far',
      unit: '0: no mapping',
      min: 0,
      max: 1e6,
      step: 0.1,
      neutral: 0,
    },
  ],
  gather: surface,
  planes(v, { film }) {
    const [near, far] = [numberOf(v, 'near', 0), numberOf(v, 'far', 0)];
    const plane = film.surface(SURFACE.depth, 1)[0]!;
    const covered = film.alpha();
    if (far > near)
      for (let i = 0; i < plane.length; i++)
        plane[i] = covered[i]! > 0 ? Math.min(1, Math.max(0, (plane[i]! - near) / (far - near))) : 1;
    return [plane];
  },
});

export const normals = data({
  kind: 'normals',
  label: 'Normals',
  hint: 'Direction in which each surface faces, in the world.',
  layer: 'normal',
  letters: 'XYZ',
  gather: surface,
  planes: (_, { film }) => film.surface(SURFACE.normal, 3),
});

export const position = data({
  kind: 'position',
  label: 'Position',
  hint: 'Where each surface is in the world. Choose float for large scenes.',
  layer: 'position',
  letters: 'XYZ',
  gather: surface,
  planes: (_, { film }) => film.surface(SURFACE.position, 3),
});

export const motion = data({
  kind: 'motion',
  label: 'Motion vectors',
  hint: 'How far each surface moves until the next frame, in pixels, x right and y down.',
  layer: 'motion',
  letters: 'XY',
  gather: surface,
  planes: (_, { film }) => film.surface(SURFACE.motion, 2),
});

export const baseColour = data({
  kind: 'base-colour',
  label: 'Base colour',
  hint: 'The colour of each material before any light.',
  layer: 'base',
  letters: 'RGB',
  gather: surface,
  planes: (_, { film }) => film.surface(SURFACE.base, 3),
});

export const shadow = data({
  kind: 'shadow',
  label: 'Shadow',
  hint: 'Share of the direct light that something keeps away: 0 in the open, 1 in full shadow.',
  layer: 'shadow',
  letters: 'Y',
  gather: () => ({ shadow: true }),
  planes: (_, { film }) => [film.shadow()],
});
