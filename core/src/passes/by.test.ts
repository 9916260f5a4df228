import { emptyPlan } from '../plan/plan.ts';
import { outlineOfPaths } from '../../test/fixtures/outlines.ts';
import { rosterOf } from '../roster/roster.ts';
import { byFault, namesOf } from './by.ts';

const roster = rosterOf(
  outlineOfPaths({
    'table/jar_1/lid': ['enamel'],
    'table/jar_1/label': ['paper'],
    'table/jar_2': ['glass'],
    wall: ['plaster'],
  }),
  emptyPlan(),
);

test.each([
  [1, ['table', 'table', 'table', 'wall']],
  [2, ['table/jar_1', 'table/jar_1', 'table/jar_2', 'wall']],
])('groups of level %s are told apart, and what is in none stands for itself', (level, names) => {
  expect(namesOf({ by: 'group', level }, roster)).toEqual(names);
  expect(byFault({ by: 'group', level }, roster)).toBeUndefined();
});
test('a level that the scene has not is told', () =>
  expect(byFault({ by: 'group', level: 5 }, roster)!.message).toMatch(/no groups at this level/));
