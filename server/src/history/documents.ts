import { emptyChangeList, upgradeChangeList, type ChangeList } from '@zesty-crow/core/changes';
import { emptyPlan, upgradePlan, type Plan } from '@zesty-crow/core/plan';
import { History } from './history.ts';

/** The documents of a shot that are edited with undo. */
export const changeHistory = new History<ChangeList>('changes', emptyChangeList, upgradeChangeList);
export const planHistory = new History<Plan>('plan', emptyPlan, upgradePlan);
