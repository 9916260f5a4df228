import { readScratch, scratch, tool, writeScratch } from '../../test/fixtures/tools.ts';
import { readExr } from '../formats/exr/read.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { ExrChannel, ExrHeader, ExrImage } from '../formats/exr/types.ts';
import { writeExr } from '../formats/exr/write.ts';
import { toHalf } from '../planes/half.ts';
import { openFrame } from './open-frame.ts';

const [width, height] = [64, 40];

/** A channel with a sample for every `every` pixels of every `every` lines. */
function channel(name: string, every: number, at: (x: number, y: number) => number): ExrChannel {
  const columns = width / every;
  const data = Uint16Array.from({ length: columns * (height / every) }, (_, i) =>
    toHalf(at((i % columns) * every, Math.floor(i / columns) * every)),
  );
  return { name, type: 'half', xSampling: every, ySampling: every, pLinear: false, data };
}
function header(xMin: number, yMin: number): Omit<ExrHeader, 'channels'> {
  const box = { xMin, yMin, xMax: xMin + width - 1, yMax: yMin + height - 1 };
  return {
    dataWindow: box,
    displayWindow: box,
    compression: 'zip',
    lineOrder: 'increasing',
    pixelAspectRatio: 1,
    attributes: [],
  };
}

/** What the reference tool shows of a file, as 8 bits of red, green, blue and alpha a pixel. */
function shown(name: string, bytes: Uint8Array): Uint8Array {
  writeScratch(name, bytes);
  tool('exrmakepreview', '-w', String(width), scratch(name), scratch('preview.exr'));
  const { attributes } = readExr(readScratch('preview.exr')).header;
  return attributes.find((a) => a.name === 'preview')!.value.subarray(8);
}

const frameOf = (bytes: Uint8Array) =>
  openFrame([{ role: 'picture', name: 'chroma.exr', frame: null }], undefined, () => Promise.resolve(bytes));

// Edges of chroma that no filter brings back without overshooting, and waves that it does.
const COLOURS: Record<string, [(x: number, y: number) => number, (x: number, y: number) => number]> = {
  'soft colours': [(x, y) => 0.4 * Math.sin(x / 9 + y / 11), (x) => 0.5 * Math.cos(x / 7)],
  'hard edges of colour': [
    (x, y) => (x > 30 && y > 13 ? 1.2 : -0.6),
    (x, y) => (((x >> 3) + (y >> 3)) % 2 ? 1.5 : -0.8),
  ],
};

test.each(Object.keys(COLOURS))(
  '%s, stored as luminance and chroma, are those of the reference',
  async (kind) => {
    const [ry, by] = COLOURS[kind]!;
    for (const [xMin, yMin] of [
      [0, 0],
      [-6, 10],
    ] as const) {
      const bytes = writeExr({
        ...header(xMin, yMin),
        channels: [
          channel('BY', 2, by),
          channel('RY', 2, ry),
          channel('Y', 1, (x, y) => 0.2 + 0.1 * Math.sin(x / 3 + y / 2)),
        ],
      } as ExrImage['header'] & { channels: ExrChannel[] });
      expect(tool('exrinfo', writeScratch('chroma.exr', bytes))).toMatch(/'RY': half samp 2 2/);
      const frame = await frameOf(bytes);
      expect(frame.header.channels.map((c) => c.name)).toEqual(['B', 'G', 'R']);
      expect(frame.beauty).toMatchObject({ r: 'R', g: 'G', b: 'B' });
      const channels = (await frame.channels(() => true)).map((c): ExrChannel => ({
        ...c,
        type: 'half',
        data: Uint16Array.from(asFloats(c), toHalf),
      }));
      const own = shown('colours.exr', writeExr({ ...header(xMin, yMin), channels }));
      const truth = shown('chroma.exr', bytes);
      let [off, grey] = [0, 0];
      truth.forEach((v, i) => {
        off = Math.max(off, Math.abs(v - own[i]!));
        if (i % 4 === 0 && v === truth[i + 1] && v === truth[i + 2]) grey++;
      });
      // One step of 8 bits: the reference rounds to halves in between.
      expect(off).toBeLessThanOrEqual(1);
      expect(grey).toBeLessThan(width * height * 0.2);
    }
  },
);

test('luminance alone stays a grey picture', async () => {
  const bytes = writeExr({ ...header(0, 0), channels: [channel('Y', 1, (x) => x / 64)] });
  const frame = await frameOf(bytes);
  expect(frame.beauty).toMatchObject({ r: 'Y', g: 'Y', b: 'Y' });
});
