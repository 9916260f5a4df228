import type { RoleUse } from '@zesty-crow/core/roles';
import { draftOf, useOf } from './role-table.ts';

const row = (use: RoleUse, members: { key: string; name: string }[] = []) => ({
  layer: 'a',
  channels: ['a.R', 'a.G', 'a.B'],
  members,
  ...(use.role === 'pass' ? {} : { use, by: 'hand' as const, idLayer: 'a' }),
});

test.each<RoleUse>([
  { role: 'pass' },
  { role: 'object-buffer', number: 4, name: 'hive' },
  { role: 'object-buffer', channel: 'a.G' },
  { role: 'puzzle-matte', r: 'hive', g: '' },
  { role: 'number-pass', names: { 4: 'hive' } },
  { role: 'flat-colour', outlined: 'lines', names: { '#ff0000': 'hive', '#ff0000@3,4': 'jar' } },
])('what is said of a layer stays what it is when it is only looked at: %j', (use) =>
  expect(useOf(draftOf(row(use)))).toEqual(use),
);

test('members that were found wait for a name; an empty one says nothing', () => {
  const draft = draftOf(row({ role: 'number-pass' }, [{ key: '7', name: '07' }]));
  expect(draft.names).toEqual([{ key: '7', name: '', found: true }]);
  expect(useOf(draft)).toEqual({ role: 'number-pass' });
  draft.names[0]!.name = ' hive ';
  expect(useOf(draft)).toEqual({ role: 'number-pass', names: { 7: 'hive' } });
});
