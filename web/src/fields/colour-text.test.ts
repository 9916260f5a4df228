import { srgbToLinear } from '@zesty-crow/core/colour';
import { colourOf, hexOf } from './colour-text.ts';

const close = (found: readonly number[] | undefined, wanted: readonly number[], digits = 4) => {
  expect(found).toBeDefined();
  found!.forEach((v, k) => expect(v).toBeCloseTo(wanted[k]!, digits));
};
const honey = [217, 145, 33].map((b) => srgbToLinear(b / 255));

test.each(['#d99121', 'd99121', 'rgb(217, 145, 33)', '217 145 33', ' 217,145,33 '])('%s is honey', (text) =>
  close(colourOf(text), honey),
);
test('Lab and LCh are those of CSS, against D50', () => {
  // Of a grey both say the same whatever the white.
  close(colourOf('lab(50 0 0)'), [0.1842, 0.1842, 0.1842], 3);
  close(colourOf('lch(50 0 20)'), [0.1842, 0.1842, 0.1842], 3);
  close(colourOf('lab(65.06 17.94 63.78)'), honey, 1);
});
test('what is no colour is none', () => {
  for (const text of ['', 'honey-ish', '#12', '300', 'lab(']) expect(colourOf(text)).toBeUndefined();
});
test('a colour that a screen can show has a hex, and comes back from it', () => {
  expect(hexOf(colourOf('#0b7a4f')!)).toBe('#0b7a4f');
  expect(hexOf([1.4, 0.2, 0.1])).toBeUndefined();
});
