import {
  CORRECTION_GROUPS,
  CORRECTIONS,
  lightLimitOf,
  limitGroupsOf,
  limitsOf,
  type LimitGroup,
} from '@zesty-crow/core/corrections';
import type { StepKey } from '@zesty-crow/core/changes';
import {
  initialValues,
  passesFor,
  type Field,
  type FieldValue,
  type FieldValues,
} from '@zesty-crow/core/fields';
import { EDGE_STEPS, FENCE_KINDS, fenceSettings } from '@zesty-crow/core/masks';

/** What can be done in a step of a change, as the interface offers it. */
export interface StepKind {
  kind: string;
  label: string;
  /** A shorter name where there is little room. */
  short?: string;
  /** What it is for, in a line. */
  hint: string;
  group: string;
  /** Its own settings. */
  fields: readonly Field[];
  /** Settings that say to what it is limited. */
  limits: readonly LimitGroup[];
}

export interface StepList {
  name: StepKey;
  title: string;
  /** Said while it is empty. */
  empty: string;
  add: string;
  kinds: readonly StepKind[];
  /** Whether values limit: a softness by itself says nothing. */
  isLimited(values: FieldValues): boolean;
}

const groupLabel = new Map<string, string>(CORRECTION_GROUPS.map((g) => [g.group, g.label]));

export const STEP_LISTS: Record<StepKey, StepList> = {
  edge: {
    name: 'edge',
    title: 'Edge',
    empty: 'The edge is as it was rendered.',
    add: 'Refine the edge',
    kinds: EDGE_STEPS.map((s) => ({ ...s, group: '', limits: [] })),
    isLimited: () => false,
  },
  fence: {
    name: 'fence',
    title: 'Fence',
    empty: 'Nothing limits it but its edge.',
    add: 'Draw a limit',
    kinds: FENCE_KINDS.map((k) => ({ ...k, fields: fenceSettings(k), group: '', limits: [] })),
    isLimited: () => false,
  },
  corrections: {
    name: 'corrections',
    title: 'Corrections',
    empty: 'Nothing is corrected yet.',
    add: 'Add a correction',
    kinds: CORRECTION_GROUPS.flatMap(({ group }) => CORRECTIONS.filter((c) => c.group === group)).map(
      (c) => ({
        ...c,
        group: groupLabel.get(c.group)!,
        limits: limitGroupsOf(c),
      }),
    ),
    isLimited: (values) => limitsOf(values) !== undefined || lightLimitOf(values).length > 0,
  },
};

/** Why a kind cannot be used with a version, if it cannot. */
export function unusable(kind: StepKind, passes: readonly string[]): string | undefined {
  const lost = kind.fields.find((f) => f.kind === 'pass' && !f.optional && passesFor(f, passes).length === 0);
  if (!lost || lost.kind !== 'pass') return undefined;
  return lost.like === undefined
    ? 'This version has no other pass.'
    : `This version has no pass for it: ${lost.label.toLowerCase()}.`;
}

/** Values of a step that has just been added: it shows something at once, where it can. */
export function valuesToBegin(kind: StepKind, passes: readonly string[]): Record<string, FieldValue> {
  const values = initialValues(kind.fields);
  const usual = passes.find((p) => /occlusion|(^|[._])ao$/i.test(p)) ?? passes[0];
  for (const f of kind.fields) {
    if (f.kind !== 'pass') continue;
    const pass = f.like === undefined ? usual : passesFor(f, passes)[0];
    if (pass !== undefined) values[f.key] = pass;
  }
  return values;
}
