import type { Field, FieldValue } from '../../fields/field.ts';
import { withValue } from '../../fields/values.ts';
import type { Follow } from '../../masks/fence/follow.ts';
import type { Change, ChangeList, FrameRange, Keyframe, StepUse } from '../change.ts';
import { settingsOfStep, type StepKey } from '../step-settings.ts';
import { stepIn, withChange, withStep, type Edited } from './edited.ts';
import { keyedAt } from './values.ts';

const labelOf = (key: StepKey, { kind }: StepUse, field: string): string =>
  (settingsOfStep(key, kind).find((f) => f.key === field)?.label ?? field).toLowerCase();

/** Lets a shape of a fence go with a member, or stay where it is. */
export function setFollow(
  list: ChangeList,
  id: string,
  step: string,
  follow: Follow | undefined,
): Edited | undefined {
  if (!stepIn(list, id, 'fence', step)) return undefined;
  return {
    list: withStep(list, id, 'fence', step, ({ follow: _, ...use }) => (follow ? { ...use, follow } : use)),
    words: follow ? `Follow “${follow.member}”` : 'Follow nothing',
  };
}

/** Puts a keyframe of one value; without a way it goes on as the one before it does. */
export function setKey(
  list: ChangeList,
  id: string,
  key: StepKey,
  step: string,
  field: string,
  at: Pick<Keyframe, 'frame' | 'value'> & Partial<Pick<Keyframe, 'way'>>,
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  if (!use) return undefined;
  return {
    list: withStep(list, id, key, step, () => keyedAt(use, field, at.frame, at.value, at.way)),
    words: `Key ${labelOf(key, use, field)} at frame ${at.frame}`,
  };
}

/** Eases the way from a keyframe to the next one, or makes it even. */
export function setWay(
  list: ChangeList,
  id: string,
  key: StepKey,
  step: string,
  field: string,
  frame: Keyframe,
  way: Keyframe['way'],
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  const edited = use && setKey(list, id, key, step, field, { ...frame, way });
  return edited && { ...edited, words: `${way === 'eased' ? 'Ease' : 'Even'} ${labelOf(key, use, field)}` };
}

/** A step without the keyframe at a frame; of its last one the value stays. */
function unkeyed(use: StepUse, fields: readonly Field[], field: string, frame: number): StepUse {
  const own = use.keys?.[field];
  if (!own) return use;
  const left = own.filter((k) => k.frame !== frame);
  if (left.length) return { ...use, keys: { ...use.keys, [field]: left } };
  const { [field]: _, ...others } = use.keys!;
  const { keys: __, ...rest } = use;
  const value: FieldValue = own[0]!.value;
  return {
    ...rest,
    values: withValue(fields, use.values, field, value),
    ...(Object.keys(others).length ? { keys: others } : {}),
  };
}

/** Takes a keyframe away. */
export function removeKey(
  list: ChangeList,
  id: string,
  key: StepKey,
  step: string,
  field: string,
  frame: number,
): Edited | undefined {
  const use = stepIn(list, id, key, step);
  if (!use) return undefined;
  return {
    list: withStep(list, id, key, step, () => unkeyed(use, settingsOfStep(key, use.kind), field, frame)),
    words: `Remove key of ${labelOf(key, use, field)} at frame ${frame}`,
  };
}

/** The frames in which a change is applied, in either order; without ends it is applied in all. */
export function setFrames(list: ChangeList, id: string, { first, last }: FrameRange): Edited {
  const turned = first !== undefined && last !== undefined && first > last;
  const [from, to] = turned ? [last, first] : [first, last];
  const limit = ({ frames: _, ...change }: Change): Change =>
    from === undefined && to === undefined
      ? change
      : {
          ...change,
          frames: {
            ...(from === undefined ? {} : { first: from }),
            ...(to === undefined ? {} : { last: to }),
          },
        };
  return { list: withChange(list, id, limit), words: 'Limit to frames' };
}
