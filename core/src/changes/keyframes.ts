import type { Field, FieldValue } from '../fields/field.ts';
import { withValue } from '../fields/values.ts';
import type { Change, ChangeList, Keyframe, StepUse } from './change.ts';
import { settingsOfStep, STEP_KEYS, type StepKey } from './step-settings.ts';

/** What can go over from one value to another: numbers, and lists of numbers. */
export const canBeKeyed = (field: Field): boolean =>
  field.kind === 'number' || field.kind === 'colour' || field.kind === 'rgb' || field.kind === 'points';

/** So far from 0 to 1; Hermite's cubic 3t² - 2t³ where it is eased. */
const wayAt = (t: number, way: Keyframe['way']) => (way === 'eased' ? t * t * (3 - 2 * t) : t);

/** Between two values of one shape; of another shape, the first until the second is there. */
function between(a: FieldValue, b: FieldValue, t: number): FieldValue {
  if (typeof a === 'number' && typeof b === 'number') return a + (b - a) * t;
  if (Array.isArray(a) && Array.isArray(b) && a.length === b.length) {
    const [x, y] = [a as FieldValue[], b as FieldValue[]];
    return x.map((v, i) => between(v, y[i]!, t)) as unknown as FieldValue;
  }
  return a;
}

/**
 * The value at a frame. Before the first keyframe it is the first one's, after the last one the last one's, and at a
 * keyframe exactly its own.
 * @param keys in the order of their frames; at least one
 */
export function valueAt(keys: readonly Keyframe[], frame: number): FieldValue {
  const next = keys.findIndex((k) => k.frame > frame);
  if (next === 0) return keys[0]!.value;
  const from = keys.at(next < 0 ? -1 : next - 1)!;
  const to = keys[next];
  if (!to || from.frame === frame) return from.value;
  return between(from.value, to.value, wayAt((frame - from.frame) / (to.frame - from.frame), from.way));
}

/** Keyframes with one more, or with another value at its frame. */
export const withKey = (keys: readonly Keyframe[], key: Keyframe): Keyframe[] =>
  [...keys.filter((k) => k.frame !== key.frame), key].sort((a, b) => a.frame - b.frame);

/** A step with the values that its keyframes give at a frame, and without those. */
export function stepAt(use: StepUse, key: StepKey, frame: number): StepUse {
  const { keys, ...rest } = use;
  if (!keys) return use;
  const fields = settingsOfStep(key, use.kind);
  return Object.entries(keys).reduce<StepUse>(
    (step, [name, own]) =>
      own.length ? { ...step, values: withValue(fields, step.values, name, valueAt(own, frame)) } : step,
    rest,
  );
}

/** Whether a change is applied at a frame. */
export const holdsAt = ({ frames }: Pick<Change, 'frames'>, frame: number): boolean =>
  !frames || (frame >= (frames.first ?? -Infinity) && frame <= (frames.last ?? Infinity));

/**
 * The list as it is at a frame: the very document that typing the values of that frame by hand would give. Without a
 * frame, where a version is one picture, keyframes and limits to frames say nothing and the list is as it is.
 */
export function ofFrame(list: ChangeList, frame: number | undefined): ChangeList {
  if (frame === undefined) return list;
  const changes = list.changes.map((change): Change => {
    const { frames, ...rest } = change;
    const lists = STEP_KEYS.map((key) => [key, change[key].map((use) => stepAt(use, key, frame))]);
    return {
      ...rest,
      on: change.on && holdsAt({ ...(frames ? { frames } : {}) }, frame),
      ...(Object.fromEntries(lists) as Pick<Change, StepKey>),
    };
  });
  return { ...list, changes };
}
