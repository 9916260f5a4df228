import { histogram } from './histogram.ts';
import { hueChroma } from './hue-chroma.ts';
import type { Scope } from './scope.ts';
import { vectorscope } from './vectorscope.ts';
import { waveform } from './waveform.ts';

/** Every scope there is, in the order in which the interface offers them. */
export const SCOPES: readonly Scope[] = [histogram, waveform, vectorscope, hueChroma];

export const scopeOf = (name: string): Scope | undefined => SCOPES.find((s) => s.name === name);
