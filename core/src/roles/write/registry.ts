import { asCryptomatte } from './cryptomatte.ts';
import { asFlatColour } from './flat-colour.ts';
import { asNumberPass } from './number-pass.ts';
import { asObjectBuffers } from './object-buffers.ts';
import { asPuzzleMattes } from './puzzle-mattes.ts';
import type { RewriteKind } from './rewrite.ts';

/** Every form in which an ID layer can be written. */
export const REWRITES: readonly RewriteKind[] = [
  asCryptomatte,
  asObjectBuffers,
  asPuzzleMattes,
  asNumberPass,
  asFlatColour,
];
