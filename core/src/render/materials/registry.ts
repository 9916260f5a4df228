import type { SceneMaterial } from '../../scene/index.ts';
import { glass } from './glass.ts';
import { metal } from './metal.ts';
import { opaque } from './opaque.ts';
import type { Material } from './surface.ts';

/** The scattering of each kind of material. */
export const MATERIALS: Record<SceneMaterial['kind'], Material> = { opaque, metal, glass };
