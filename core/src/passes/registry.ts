import { cryptomatte } from './cryptomatte.ts';
import { alpha, ambientOcclusion, baseColour, depth, motion, normals, position, shadow } from './data.ts';
import { flatColour } from './flat-colour.ts';
import { lampsPass } from './lamps.ts';
import { LIGHT_PASSES } from './light.ts';
import { numberPass } from './number-pass.ts';
import { objectBuffer } from './object-buffer.ts';
import type { PassKind } from './pass.ts';
import { puzzleMatte } from './puzzle-matte.ts';
import { throughGlass } from './through-glass.ts';

/** Every kind of pass there is, in the order in which the interface offers them. */
export const PASSES: readonly PassKind[] = [
  cryptomatte,
  throughGlass,
  objectBuffer,
  puzzleMatte,
  numberPass,
  flatColour,
  alpha,
  ambientOcclusion,
  depth,
  normals,
  position,
  motion,
  baseColour,
  shadow,
  ...LIGHT_PASSES,
  lampsPass,
];

export const passKind = (kind: string): PassKind | undefined => PASSES.find((p) => p.kind === kind);
