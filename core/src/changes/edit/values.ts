import type { FieldValues } from '../../fields/field.ts';
import { neutralValues, withValue } from '../../fields/values.ts';
import type { ChangeList, StepUse } from '../change.ts';
import { withKey } from '../keyframes.ts';
import type { ListState } from '../listed.ts';
import { settingsOfStep, stepInWords, type StepKey } from '../step-settings.ts';
import { withSet } from '../variant.ts';
import { ownerIn, stepIn, withOwner, withSteps, type Edited } from './edited.ts';

/**
 * Puts something into the variant that is worked on. Nothing where none is, or where it cannot hold it: headings are those
 * of all variants.
 */
function putIntoVariant(
  list: ChangeList,
  { variant: variantId }: ListState,
  id: string,
  step: string | undefined,
  put: { on?: boolean; values?: FieldValues },
): Pick<Edited, 'list' | 'inVariant'> | undefined {
  const at = list.variants.findIndex((v) => v.id === variantId);
  const variant = list.variants[at];
  if (!variant || !list.changes.some((c) => c.id === id)) return undefined;
  const variants = list.variants.with(at, withSet(list, variant, id, step, put));
  return { list: { ...list, variants }, inVariant: variant.name };
}

/** A keyframe of a value at a frame; it goes on to the next as the one before it does, until something else is said. */
export function keyedAt(
  use: StepUse,
  key: string,
  frame: number,
  value: FieldValues[string],
  way?: 'linear' | 'eased',
): StepUse {
  const own = use.keys?.[key] ?? [];
  const before = own.filter((k) => k.frame <= frame).at(-1)?.way ?? 'linear';
  return { ...use, keys: { ...use.keys, [key]: withKey(own, { frame, value, way: way ?? before }) } };
}

/**
 * Sets several values of a step; neutral ones are left out. In a variant they are its own; what has keyframes gets one at
 * the frame that is open.
 * @param state what is worked on: the variant and the frame
 */
export function setValues(
  list: ChangeList,
  state: ListState,
  id: string,
  key: StepKey,
  step: string,
  values: FieldValues,
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  if (!use) return undefined;
  const fields = settingsOfStep(key, use.kind);
  const labels = fields.filter((f) => f.key in values).map((f) => f.label);
  const words = labels.join(', ') || stepInWords(key, use.kind);
  const put = putIntoVariant(list, state, id, step, { values });
  if (put) return { ...put, words };
  const { frame } = state;
  const set = (before: StepUse) =>
    Object.entries(values).reduce<StepUse>(
      (now, [name, value]) =>
        now.keys?.[name] && frame !== undefined
          ? keyedAt(now, name, frame, value)
          : { ...now, values: withValue(fields, now.values, name, value) },
      before,
    );
  return {
    list: withSteps(list, id, key, (steps) => steps.map((s) => (s.id === step ? set(s) : s))),
    words,
  };
}

/** All values neutral; the step stays. */
export function resetStep(
  list: ChangeList,
  state: ListState,
  id: string,
  key: StepKey,
  step: string,
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  if (!use) return undefined;
  const words = `Reset ${stepInWords(key, use.kind)}`;
  const neutral = neutralValues(settingsOfStep(key, use.kind));
  const put = putIntoVariant(list, state, id, step, { values: neutral });
  if (put) return { ...put, words };
  return {
    list: withSteps(list, id, key, (steps) => steps.map((s) => (s.id === step ? { ...s, values: {} } : s))),
    words,
  };
}

const turn = (on: boolean) => (on ? 'Turn on' : 'Turn off');

/** Switches a step; in a variant, there alone. */
export function setStepOn(
  list: ChangeList,
  state: ListState,
  id: string,
  key: StepKey,
  step: string,
  on: boolean,
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  if (!use) return undefined;
  const words = `${turn(on)} ${stepInWords(key, use.kind)}`;
  const put = putIntoVariant(list, state, id, step, { on });
  if (put) return { ...put, words };
  return {
    list: withSteps(list, id, key, (steps) => steps.map((s) => (s.id === step ? { ...s, on } : s))),
    words,
  };
}

/** Switches a change or a heading; in a variant, there alone. */
export function setOn(list: ChangeList, state: ListState, id: string, on: boolean): Edited | undefined {
  const owner = ownerIn(list, id);
  if (!owner) return undefined;
  const words = 'corrections' in owner ? turn(on) : `${turn(on)} heading`;
  const put = putIntoVariant(list, state, id, undefined, { on });
  return put ? { ...put, words } : { list: withOwner(list, id, () => ({ on })), words };
}
