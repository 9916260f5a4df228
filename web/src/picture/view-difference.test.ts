import type { ListedChange } from '@zesty-crow/core';
import { EMPTY_VIEW } from './empty-view.ts';
import type { ModeName, ViewState } from './messages.ts';
import { differenceOf } from './view-difference.ts';

const change = (id: string, more: Partial<ListedChange> = {}): ListedChange => ({
  id,
  words: '',
  on: true,
  done: false,
  plainEdges: false,
  who: [],
  edge: [],
  fence: [],
  brush: [],
  corrections: [],
  ...more,
});
const view = (more: Partial<ViewState>): ViewState => ({ ...EMPTY_VIEW, ...more });
const due = (last: ViewState, now: ViewState) =>
  Object.entries(differenceOf(last, now)).flatMap(([name, is]) => (is ? [name] : []));

test('the same view, another rectangle or other values of a change make nothing due by themselves', () => {
  const a = view({ changes: [change('a')], openChange: 'a' });
  expect(due(a, { ...a })).toEqual([]);
  expect(due(a, { ...a, visible: { x0: 0, y0: 0, x1: 9, y1: 9 } })).toEqual([]);
  const exposed = change('a', {
    corrections: [{ id: 'u', kind: 'exposure', on: true, values: {} } as never],
  });
  expect(due(a, { ...a, changes: [exposed] })).toEqual([]);
});

test('a frame that was just opened shows everything anew', () => {
  expect(differenceOf(undefined, view({ openChange: 'a' }))).toMatchObject({
    view: true,
    before: true,
    mask: true,
    whole: true,
    warnings: false,
  });
});

test.each<[string, Partial<ViewState>, Partial<ViewState>, string[]]>([
  ['another display', {}, { display: { ...EMPTY_VIEW.display, stops: 1 } }, ['view', 'before', 'watched']],
  ['another mode', {}, { mode: 'ids' }, ['view']],
  ['masks, before which is something else', {}, { mode: 'mask' }, ['view', 'before']],
  ['another layer', { mode: 'ids' }, { mode: 'ids', layer: 'b' }, ['view']],
  [
    'another ground, of cut-outs alone',
    { mode: 'cutout' },
    { mode: 'cutout', ground: 'grey' as never },
    ['view'],
  ],
  ['another ground, which nobody sees', {}, { ground: 'grey' as never }, []],
  ['differences so many times as large', { mode: 'difference' }, { mode: 'difference', gain: 8 }, ['view']],
  ['other warnings', {}, { warnings: ['outside'] }, ['warnings']],
  ['another open change', {}, { openChange: 'b' }, ['mask', 'whole']],
  ['seen from afar', {}, { scale: 0.25 }, ['outline']],
])('%s', (_, before, after, wanted) => {
  expect(due(view(before), view(after))).toEqual(wanted);
});

test('the open change’s mask is another one by its members, edge, fence and brush, and by what it stands under', () => {
  const open = { openChange: 'a' };
  const a = view({ ...open, changes: [change('a'), change('b')] });
  const edited = (more: Partial<ListedChange>) =>
    due(a, view({ ...open, changes: [change('a', more), change('b')] }));
  expect(edited({ who: [{ mode: 'with', layer: 'objects', member: 'hive' }] })).toEqual(['mask']);
  expect(edited({ words: 'greener' })).toEqual([]);
  const other = view({
    ...open,
    changes: [change('a'), change('b', { who: [{ mode: 'with', layer: 'l', member: 'm' }] })],
  });
  expect(due(a, other)).toEqual([]);
});

test('of a mask its limit counts, where it is looked at', () => {
  const use = (most: number) =>
    ({ id: 'u', kind: 'exposure', on: true, values: { lightness: [0, most] } }) as never;
  const at = (most: number, mode: ModeName) =>
    view({ mode, openChange: 'a', limitOf: 'u', changes: [change('a', { corrections: [use(most)] })] });
  expect(due(at(1, 'mask'), at(2, 'mask'))).toEqual(['view']);
  expect(due(at(1, 'picture'), at(2, 'picture'))).toEqual([]);
});
