import type { Field, FieldValues } from '../fields/field.ts';
import { withValue } from '../fields/values.ts';
import type { Change, ChangeList, StepUse, Variant, VariantSet } from './change.ts';
import { settingsOfStep, STEP_KEYS, type StepKey } from './step-settings.ts';

const stepsOf = (change: Change) => STEP_KEYS.flatMap((key) => change[key].map((use) => [key, use] as const));

/** The step of a change with an id, and the list that it is in. */
const stepIn = (change: Change, id: string): readonly [StepKey, StepUse] | undefined =>
  stepsOf(change).find(([, use]) => use.id === id);

const setOf = (variant: Variant, change: string, step?: string): VariantSet | undefined =>
  variant.sets.find((s) => s.change === change && s.step === step);

function stepWith(use: StepUse, fields: readonly Field[], set: VariantSet | undefined): StepUse {
  if (!set) return use;
  const values = Object.entries(set.values ?? {}).reduce<FieldValues>(
    (all, [key, value]) => withValue(fields, all, key, value),
    use.values,
  );
  // A value of the variant's own holds in all frames.
  const { keys, ...rest } = use;
  const left = Object.entries(keys ?? {}).filter(([key]) => set.values?.[key] === undefined);
  return {
    ...rest,
    on: set.on ?? use.on,
    values,
    ...(left.length ? { keys: Object.fromEntries(left) } : {}),
  };
}

/**
 * The list as a variant has it: the very document that typing its values by hand would give. Of an unknown variant, or
 * none, the list itself.
 */
export function ofVariant(list: ChangeList, id: string | undefined): ChangeList {
  const variant = list.variants.find((v) => v.id === id);
  if (!variant) return list;
  const changes = list.changes.map((change): Change => {
    if (!variant.sets.some((s) => s.change === change.id)) return change;
    const lists = STEP_KEYS.map((key) => [
      key,
      change[key].map((use) =>
        stepWith(use, settingsOfStep(key, use.kind), setOf(variant, change.id, use.id)),
      ),
    ]);
    return {
      ...change,
      on: setOf(variant, change.id)?.on ?? change.on,
      ...(Object.fromEntries(lists) as Pick<Change, StepKey>),
    };
  });
  return { ...list, changes };
}

/**
 * A variant that sets something more. What is as the list has it anyway is not kept: later changes of the list flow
 * through to it.
 * @param put `on`, values by key, or both; without a step the change's own switch is meant
 */
export function withSet(
  list: ChangeList,
  variant: Variant,
  changeId: string,
  stepId: string | undefined,
  put: { on?: boolean; values?: FieldValues },
): Variant {
  const change = list.changes.find((c) => c.id === changeId);
  const found = change && stepId !== undefined ? stepIn(change, stepId) : undefined;
  if (!change || (stepId !== undefined && !found)) return variant;
  const base = found ? found[1] : change;
  const before = setOf(variant, changeId, stepId);
  const on = put.on ?? before?.on;
  const merged = { ...before?.values, ...put.values };
  const fields = found ? settingsOfStep(found[0], found[1].kind) : [];
  const same = (key: string, value: unknown) => {
    const held = found?.[1].values[key] ?? fields.find((f) => f.key === key)?.neutral;
    return JSON.stringify(value) === JSON.stringify(held);
  };
  const values = Object.fromEntries(Object.entries(merged).filter(([key, value]) => !same(key, value)));
  const set: VariantSet = {
    change: changeId,
    ...(found ? { step: found[1].id, kind: found[1].kind } : {}),
    ...(on !== undefined && on !== base.on ? { on } : {}),
    ...(Object.keys(values).length ? { values } : {}),
  };
  const rest = variant.sets.filter((s) => s !== before);
  const says = set.on !== undefined || set.values !== undefined;
  return { ...variant, sets: says ? [...rest, set] : rest };
}

/** A variant that sets nothing any more of a step, or of one of its values. */
export function withoutSet(variant: Variant, change: string, step: string, key?: string): Variant {
  const sets = variant.sets.flatMap((s): VariantSet[] => {
    if (s.change !== change || s.step !== step) return [s];
    if (key === undefined) return [];
    const { values: { [key]: _, ...rest } = {}, ...other } = s;
    const left = Object.keys(rest).length > 0;
    return left || other.on !== undefined ? [{ ...other, ...(left ? { values: rest } : {}) }] : [];
  });
  return { ...variant, sets };
}

/** One thing in which a variant is other than the list. */
export interface Difference {
  change: Change;
  /** Absent where the change's own switch is meant. */
  use?: StepUse;
  /** Without a field it is the switch. */
  field?: Field;
  from: unknown;
  to: unknown;
}

/** In what a variant is other than the list, in the list's order; what it sets of things that are gone is left out. */
export function differencesOf(list: ChangeList, variant: Variant): Difference[] {
  return list.changes.flatMap((change) => {
    const own = setOf(variant, change.id)?.on;
    const switched = own !== undefined && own !== change.on ? [{ change, from: change.on, to: own }] : [];
    const steps = stepsOf(change).flatMap(([key, use]): Difference[] => {
      const set = setOf(variant, change.id, use.id);
      if (!set) return [];
      const fields = settingsOfStep(key, use.kind);
      const at = { change, use };
      return [
        ...(set.on !== undefined && set.on !== use.on ? [{ ...at, from: use.on, to: set.on }] : []),
        ...fields.flatMap((field): Difference[] => {
          const to = set.values?.[field.key];
          if (to === undefined) return [];
          return [{ ...at, field, from: use.values[field.key] ?? field.neutral, to }];
        }),
      ];
    });
    return [...switched, ...steps];
  });
}
