import { hexOf } from '../../fields/colour-text.ts';
import { swatchesOf } from './swatch-list.ts';

const read = (text: string) => swatchesOf(text).colours.map((c) => [c.name, hexOf(c.colour)]);

test('colours are read one a line, with or without a name', () => {
  expect(read('#c0392b\n1f5fae\n\nMoss, #4b5d2a\n#d9b44a;Honey\nSky\tlab(70 -10 -30)')).toEqual([
    ['#c0392b', '#c0392b'],
    ['#1f5fae', '#1f5fae'],
    ['Moss', '#4b5d2a'],
    ['Honey', '#d9b44a'],
    ['Sky', expect.stringMatching(/^#/)],
  ]);
  expect(read('Moss #4b5d2a\nHoney: #d9b44a\nlch(50 40 120)').map(([name]) => name)).toEqual([
    'Moss',
    'Honey',
    expect.stringMatching(/^#/),
  ]);
});
test('of a CSV file, whatever is in other columns', () => {
  expect(read('name,red,green,blue\nHive green,42,110,63\n"Wax, pale",250,236,190')).toEqual([
    ['Hive green', '#2a6e3f'],
    ['Wax, pale', '#faecbe'],
  ]);
  expect(read('article;colour\n1204;#2a6e3f')).toEqual([['1204', '#2a6e3f']]);
});
test('lines without a colour are told, and equal names numbered', () => {
  const found = swatchesOf('#111111\nno colour here\nBee, #222222\nBee, #333333');
  expect(found.unread).toEqual([2]);
  expect(found.colours.map((c) => c.name)).toEqual(['#111111', 'Bee', 'Bee 2']);
});
