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
  // Examples of CSS Color 4, section 9.
  expect(hexOf(colourOf('lab(29.2345% 39.3825 20.0664)')!)).toBe('#7d2329');
  const earth = [198, 93, 7].map((b) => srgbToLinear(b / 255));
  close(colourOf('lab(52.2345 40.1645 59.9971)'), earth, 2);
  close(colourOf('lch(52.2345% 72.2 56.2)'), earth, 2);
});
test('what is no colour is none', () => {
  for (const text of ['', 'honey-ish', '#12', '1 2', 'lab(']) expect(colourOf(text)).toBeUndefined();
});
test('a colour that a screen can show has a hex, and comes back from it', () => {
  expect(hexOf(colourOf('#0b7a4f')!)).toBe('#0b7a4f');
  expect(hexOf([1.4, 0.2, 0.1])).toBeUndefined();
});
