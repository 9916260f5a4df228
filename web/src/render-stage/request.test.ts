import { emptyPlan, rosterOf, srgbToLinear, type Plan } from '@zesty-crow/core';
import { TABLE, wish } from '../../../core/test/fixtures/outlines.ts';
import { overrideOf, memberOptions, requestOf, type Choices } from './request.ts';

const plan: Plan = {
  ...emptyPlan(),
  materials: { enamel: { name: 'lid: red' } },
  wishes: [wish('groups', 'jars/jar_1', { id: 'hero', words: '' })],
};
const roster = rosterOf(TABLE, plan);
const choose = (more: Partial<Choices>) =>
  requestOf({ what: 'all', who: [], covered: true, catcher: [], override: {}, ...more }, plan, roster);

test('everything, and IDs that join a version or stand alone, need no members', () => {
  expect(choose({ base: 'v1' })).toEqual({ request: { what: 'all' } });
  expect(choose({ what: 'ids', base: 'v1' })).toEqual({ request: { what: 'ids' }, base: 'v1' });
  expect(choose({ what: 'ids' })).toEqual({ request: { what: 'ids' } });
});

test('a cut-out says what is missing, then carries members and the catcher', () => {
  expect(choose({ what: 'cut-out' }).fault).toBe('Say which members.');
  expect(
    choose({ what: 'cut-out', who: ['wish:hero', 'materials:lid: red'], catcher: ['objects:dipper'] }),
  ).toEqual({
    request: {
      what: 'cut-out',
      keepCovered: true,
      who: [
        { mode: 'with', layer: 'groups', member: 'jars/jar_1' },
        // A name may hold the sign that ends the layer's.
        { mode: 'with', layer: 'materials', member: 'lid: red' },
      ],
      catcher: [{ mode: 'with', layer: 'objects', member: 'dipper' }],
    },
  });
});

test('a patch gives its look to every material of its members, as the scene calls them', () => {
  const override = { roughness: 0.7 };
  const asked = choose({ what: 'patch', base: 'v2', who: ['groups:jars/jar_1'], override });
  expect(asked.fault).toBeUndefined();
  expect(asked.base).toBe('v2');
  expect(asked.request.looks).toEqual({ glass: override, enamel: override });
  expect(choose({ what: 'patch', who: ['objects:dipper'], override }).fault).toContain('No version is');
  expect(choose({ what: 'patch', base: 'v2', who: ['objects:dipper'] }).fault).toBe('Give them a new look.');
  expect(choose({ what: 'patch', base: 'v2', override }).fault).toBe('Say which members.');
});

test('a look is linear light, and only what was set', () => {
  expect(overrideOf(null, undefined, undefined)).toEqual({});
  expect(overrideOf('rgb(255, 0, 128)', 0, undefined)).toEqual({
    colour: [1, 0, srgbToLinear(128 / 255)],
    metalness: 0,
  });
});

test('members are offered by kind, wishes without words included', () => {
  const options = memberOptions(plan, roster);
  expect(options.map((o) => o.kind)).toEqual(['wish', 'group', 'object', 'material']);
  expect(options[0]!.list).toEqual([{ value: 'wish:hero', label: 'unnamed wish' }]);
  expect(options[3]!.list.map((o) => o.label)).toContain('lid: red');
});
