import { emptyChangeList, type ChangeList } from '@zesty-crow/core/changes';
import { emptyPlan, type Plan } from '@zesty-crow/core/plan';
import { History } from './history.ts';

/** The documents of a shot that are edited with undo. */
export const changeHistory = new History<ChangeList>('changes', emptyChangeList);
export const planHistory = new History<Plan>('plan', emptyPlan);
