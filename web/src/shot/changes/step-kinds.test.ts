import { describeValues } from '@zesty-crow/core/fields';
import { STEP_LISTS, unusable, valuesToBegin } from './step-kinds.ts';

const kindOf = (list: 'edge' | 'corrections', kind: string) =>
  STEP_LISTS[list].kinds.find((k) => k.kind === kind)!;

test('what multiplies by a pass is greyed with the reason where there is none, and begins with occlusion', () => {
  const byPass = kindOf('corrections', 'multiply-by-pass');
  expect(unusable(byPass, [])).toBe('This version has no other pass.');
  expect(unusable(byPass, ['depth'])).toBeUndefined();
  expect(unusable(kindOf('corrections', 'exposure'), [])).toBeUndefined();
  expect(valuesToBegin(byPass, ['depth', 'occlusion'])).toEqual({ pass: 'occlusion' });
  expect(valuesToBegin(byPass, ['depth'])).toEqual({ pass: 'depth' });
});

test('corrections are offered in groups, none twice', () => {
  const groups = STEP_LISTS.corrections.kinds.map((k) => k.group);
  expect(groups).toEqual([...groups].sort((a, b) => groups.indexOf(a) - groups.indexOf(b)));
  expect(new Set(groups).size).toBe(4);
  const kinds = STEP_LISTS.corrections.kinds.map((k) => k.kind);
  expect(new Set(kinds).size).toBe(kinds.length);
});

test('a folded step says its values in a line: the first without its name, what is neutral not at all', () => {
  const of = (list: 'edge' | 'corrections', kind: string, values: object) =>
    describeValues(kindOf(list, kind).fields, values as never, STEP_LISTS[list].isLimited(values as never));
  expect(of('corrections', 'exposure', { stops: -0.35 })).toBe('−0.35 stops');
  expect(
    of('corrections', 'hue-saturation-lightness', { hue: 150, saturation: -35, limitHueWidth: 60 }),
  ).toBe('150°, saturation −35 %, limited');
  expect(of('corrections', 'multiply', { by: [1.1, 1, 0.9], amount: 40 })).toBe('1.1 1 0.9, 40 % of it');
  expect(of('corrections', 'multiply-by-pass', { pass: 'occlusion' })).toBe('occlusion');
  expect(of('corrections', 'contrast', {})).toBe('');
  // How soft a limit would be limits nothing.
  expect(of('corrections', 'exposure', { stops: 1, limitHueSoft: 40 })).toBe('1 stops');
  expect(of('edge', 'grow', { by: -1.5 })).toBe('−1.5 px');
});
