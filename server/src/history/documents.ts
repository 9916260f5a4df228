import { emptyChangeList, upgradeChangeList, type ChangeList } from '@zesty-crow/core/changes';
import { emptyPlan, upgradePlan, type Plan } from '@zesty-crow/core/plan';
import { emptyParcelList, upgradeParcelList, type ParcelList } from '@zesty-crow/core/parcels';
import { History } from './history.ts';

/** The documents of a shot that are edited with undo. */
export const changeHistory = new History<ChangeList>(
  'changes',
  emptyChangeList,
  upgradeChangeList,
  ({ changes }) => changes.filter((c) => !c.done).length,
);
export const parcelHistory = new History<ParcelList>('parcels', emptyParcelList, upgradeParcelList);
export const planHistory = new History<Plan>('plan', emptyPlan, upgradePlan);
