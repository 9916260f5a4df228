import type { FieldValues } from '../../fields/field.ts';
import { neutralValues, withValue } from '../../fields/values.ts';
import type { ChangeList, StepUse } from '../change.ts';
import { withKey } from '../keyframes.ts';
import type { ListState } from '../listed.ts';
import { settingsOfStep, stepInWords, type StepKey } from '../step-settings.ts';
import { withSet } from '../variant.ts';
import { ownerIn, stepIn, withOwner, withStep, type Edited } from './edited.ts';

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
 * Edits a step where one is working: in the variant, if it can hold it, otherwise in the list.
 * @param edit what it is called, what a variant is given, and the step as the list has it then
 */
function editStep(
  list: ChangeList,
  state: ListState,
  [id, key, step]: readonly [string, StepKey, string],
  edit: (use: StepUse) => {
    words: string;
    put: { on?: boolean; values?: FieldValues };
    edited: () => StepUse;
  },
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  if (!use) return undefined;
  const { words, put, edited } = edit(use);
  const own = putIntoVariant(list, state, id, step, put);
  return { ...(own ?? { list: withStep(list, id, key, step, edited) }), words };
}

/**
 * Sets several values of a step; neutral ones are left out. In a variant they are its own; what has keyframes gets one at
 * the frame that is open.
 * @param state what is worked on: the variant and the frame
 */
export const setValues = (
  list: ChangeList,
  state: ListState,
  id: string,
  key: StepKey,
  step: string,
  values: FieldValues,
): Edited | undefined =>
  editStep(list, state, [id, key, step], (use) => {
    const { frame } = state;
    const fields = settingsOfStep(key, use.kind);
    const labels = fields.filter((f) => f.key in values).map((f) => f.label);
    const set = (now: StepUse, [name, value]: [string, FieldValues[string]]): StepUse =>
      now.keys?.[name] && frame !== undefined
        ? keyedAt(now, name, frame, value)
        : { ...now, values: withValue(fields, now.values, name, value) };
    return {
      words: labels.join(', ') || stepInWords(key, use.kind),
      put: { values },
      edited: () => Object.entries(values).reduce(set, use),
    };
  });

/** All values neutral; the step stays. */
export const resetStep = (
  list: ChangeList,
  state: ListState,
  id: string,
  key: StepKey,
  step: string,
): Edited | undefined =>
  editStep(list, state, [id, key, step], (use) => ({
    words: `Reset ${stepInWords(key, use.kind)}`,
    put: { values: neutralValues(settingsOfStep(key, use.kind)) },
    edited: () => ({ ...use, values: {} }),
  }));

const turn = (on: boolean) => (on ? 'Turn on' : 'Turn off');

/** Switches a step; in a variant, there alone. */
export const setStepOn = (
  list: ChangeList,
  state: ListState,
  id: string,
  key: StepKey,
  step: string,
  on: boolean,
): Edited | undefined =>
  editStep(list, state, [id, key, step], (use) => ({
    words: `${turn(on)} ${stepInWords(key, use.kind)}`,
    put: { on },
    edited: () => ({ ...use, on }),
  }));

/** Switches a change or a heading; in a variant, there alone. */
export function setOn(list: ChangeList, state: ListState, id: string, on: boolean): Edited | undefined {
  const owner = ownerIn(list, id);
  if (!owner) return undefined;
  const words = 'corrections' in owner ? turn(on) : `${turn(on)} heading`;
  const put = putIntoVariant(list, state, id, undefined, { on });
  return put ? { ...put, words } : { list: withOwner(list, id, () => ({ on })), words };
}
