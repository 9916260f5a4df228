import type { ChangeList, StepUse } from '../change.ts';
import { STEP_WORDS, stepInWords, type StepKey } from '../step-settings.ts';
import { named, ownerIn, stepIn, withSteps, type Edited } from './edited.ts';

/** One more step at the end. */
export const addStep = (
  list: ChangeList,
  id: string,
  key: StepKey,
  step: Pick<StepUse, 'id' | 'kind' | 'values'>,
): Edited => ({
  list: withSteps(list, id, key, (steps) => [...steps, { ...step, on: true }]),
  words: `Add ${stepInWords(key, step.kind)}`,
});

export function removeStep(list: ChangeList, id: string, key: StepKey, step: string): Edited | undefined {
  const gone = stepIn(list, id, key, step);
  if (!gone) return undefined;
  return {
    list: withSteps(list, id, key, (steps) => steps.filter((s) => s.id !== step)),
    words: `Remove ${stepInWords(key, gone.kind)}`,
  };
}

/** A step at another place among those of its list. */
export function moveStep(
  list: ChangeList,
  id: string,
  key: StepKey,
  from: number,
  to: number,
): Edited | undefined {
  const owner = ownerIn(list, id);
  if (!owner) return undefined;
  const move = (steps: readonly StepUse[]) => {
    const step = steps[from];
    return step ? steps.toSpliced(from, 1).toSpliced(to, 0, step) : steps;
  };
  return { list: withSteps(list, id, key, move), words: `Reorder ${STEP_WORDS[key].one}s` };
}

const copiesOf = (steps: readonly StepUse[], newId: () => string): StepUse[] =>
  steps.map((s) => ({ ...s, id: newId() }));

/** Copies of steps at the end of another change, or of a heading; `what` says in the history what was copied. */
export function copySteps(
  list: ChangeList,
  steps: readonly StepUse[],
  key: StepKey,
  toId: string,
  newId: () => string,
): Edited | undefined {
  const target = ownerIn(list, toId);
  if (!target) return undefined;
  const [first, ...others] = steps;
  const what = first && others.length === 0 ? stepInWords(key, first.kind) : STEP_WORDS[key].all;
  return {
    list: withSteps(list, toId, key, (own) => [...own, ...copiesOf(steps, newId)]),
    words: `Copy ${what} to “${named(target)}”`,
  };
}

/** Copies of a preset's corrections after those that are there. */
export const addPreset = (
  list: ChangeList,
  id: string,
  steps: readonly StepUse[],
  name: string,
  newId: () => string,
): Edited => ({
  list: withSteps(list, id, 'corrections', (own) => [...own, ...copiesOf(steps, newId)]),
  words: `Add “${name}”`,
});
