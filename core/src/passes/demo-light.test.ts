import { readFileSync } from 'node:fs';
import { readExr } from '../formats/exr/read.ts';
import { asFloats } from '../formats/exr/samples.ts';

/** The demo's table with its light apart: what its light passes and its lamps add up to is the picture. */
const read = (name: string) =>
  readExr(new Uint8Array(readFileSync(new URL(`../../../demo/files/${name}`, import.meta.url))));
const picture = read('honey_table_v1.exr');
const light = ['direct', 'indirect', 'lamps'].flatMap((name) => read(`honey_table_v1_${name}.exr`).channels);

test.each([
  ['kinds of light', /^(?!lamp_).*\.G$/, 6],
  ['lamps', /^lamp_.*\.G$/, 2],
])('its %s add up to the picture', (_, which, count) => {
  const parts = light.filter((c) => which.test(c.name)).map((c) => asFloats(c));
  expect(parts).toHaveLength(count);
  const whole = asFloats(picture.channels.find((c) => c.name === 'G')!);
  let worst = 0;
  for (let p = 0; p < whole.length; p++) {
    let sum = 0;
    for (const part of parts) sum += part[p]!;
    worst = Math.max(worst, Math.abs(sum - whole[p]!) / Math.max(0.05, whole[p]!));
  }
  // Each is stored with the 11 bits of a half.
  expect(worst).toBeLessThan(2e-3);
});
