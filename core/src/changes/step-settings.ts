import { CORRECTIONS } from '../corrections/registry.ts';
import { settingsOf } from '../corrections/shared.ts';
import { AMOUNT } from '../fields/amount.ts';
import type { Field } from '../fields/field.ts';
import { EDGE_STEPS } from '../masks/edge/registry.ts';
import { FENCE_KINDS } from '../masks/fence/registry.ts';
import { fenceSettings } from '../masks/fence/settings.ts';

/** The lists of steps that a change has. */
export type StepKey = 'edge' | 'fence' | 'corrections';
export const STEP_KEYS: readonly StepKey[] = ['edge', 'fence', 'corrections'];

/** What the history calls the steps of a list: one of them, and all together. */
export const STEP_WORDS: Readonly<Record<StepKey, { one: string; all: string }>> = {
  edge: { one: 'edge step', all: 'edge' },
  fence: { one: 'shape', all: 'fence' },
  corrections: { one: 'correction', all: 'corrections' },
};

/** A kind of step with all that can be set of it. */
export interface StepSettings {
  kind: string;
  label: string;
  fields: readonly Field[];
}

/** All kinds of steps there are, list by list. */
export const STEP_SETTINGS: Readonly<Record<StepKey, readonly StepSettings[]>> = {
  edge: EDGE_STEPS.map(({ kind, label, fields }) => ({ kind, label, fields: [...fields, AMOUNT] })),
  fence: FENCE_KINDS.map((k) => ({ kind: k.kind, label: k.label, fields: [...fenceSettings(k), AMOUNT] })),
  corrections: CORRECTIONS.map((c) => ({ kind: c.kind, label: c.label, fields: settingsOf(c) })),
};

/** All that can be set of a step; nothing of a kind that is not known. */
export const settingsOfStep = (key: StepKey, kind: string): readonly Field[] =>
  STEP_SETTINGS[key].find((k) => k.kind === kind)?.fields ?? [];

/** A kind of step in the middle of a sentence; the kind itself where it is not known. */
export const stepInWords = (key: StepKey, kind: string): string =>
  (STEP_SETTINGS[key].find((k) => k.kind === kind)?.label ?? kind).toLowerCase();
