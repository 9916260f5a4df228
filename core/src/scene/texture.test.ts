import fc from 'fast-check';
import { readScratch, scratch, tool } from '../../test/fixtures/tools.ts';
import { readExr } from '../formats/exr/read.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { decodeTexture, sampleTexture, type Texture, type Wrap } from './texture.ts';

describe('pictures', () => {
  const PATTERN = 'checker:color1=0.2,0.6,0.9:color2=0.8,0.1,0.3:width=3:height=2';
  /** The values of a picture as the reference tool reads them, without any conversion of colour. */
  function asRead(file: string): { names: string[]; planes: Float32Array[] } {
    // The tool multiplies colour with alpha when it reads; glTF's textures are not.
    tool('oiiotool', scratch(file), '--unpremult', '-d', 'float', '-o', scratch(`${file}.exr`));
    const image = readExr(readScratch(`${file}.exr`));
    return { names: image.channels.map((c) => c.name), planes: image.channels.map((c) => asFloats(c)) };
  }
  const worstOf = (data: Uint8Array, component: number, plane: Float32Array) =>
    plane.reduce((worst, v, i) => Math.max(worst, Math.abs(data[4 * i + component]! / 255 - v)), 0);

  test.each([
    ['8 bits', ['--ch', 'R,G,B', '-d', 'uint8']],
    ['8 bits with alpha', ['--ch', 'R,G,B,A=0.4', '-d', 'uint8']],
    ['16 bits', ['--ch', 'R,G,B', '-d', 'uint16']],
    ['grey', ['--ch', 'Y=R', '-d', 'uint8']],
  ])('PNG with %s are read like by the reference tool', (name, how) => {
    const file = `${name.replaceAll(' ', '_')}.png`;
    tool('oiiotool', '--pattern', PATTERN, '17x9', '3', ...how, '-o', scratch(file));
    const { width, height, data } = decodeTexture(readScratch(file));
    expect([width, height]).toEqual([17, 9]);
    const { names, planes } = asRead(file);
    names.forEach((channel, i) => {
      const component = channel === 'Y' ? 0 : 'RGBA'.indexOf(channel);
      expect(component).toBeGreaterThanOrEqual(0);
      // Of 16 bits only the upper 8 are kept; and what the tool multiplies it rounds.
      expect(worstOf(data, component, planes[i]!)).toBeLessThan((names.includes('A') ? 2.5 : 1) / 255);
    });
    if (!names.includes('A')) expect(data.filter((_, i) => i % 4 === 3).every((a) => a === 255)).toBe(true);
  });

  test('JPEG are read like by the reference tool, within what decoders may differ', () => {
    tool(
      'oiiotool',
      '--pattern',
      'fill:topleft=0.1,0.2,0.3:bottomright=0.9,0.5,0.2',
      '40x24',
      '3',
      '--quality',
      '95',
      '-o',
      scratch('fill.jpg'),
    );
    const { width, height, data } = decodeTexture(readScratch('fill.jpg'));
    expect([width, height]).toEqual([40, 24]);
    const { names, planes } = asRead('fill.jpg');
    names.forEach((channel, i) =>
      expect(worstOf(data, 'RGB'.indexOf(channel), planes[i]!)).toBeLessThan(4 / 255),
    );
  });

  test('anything else is refused, and a huge size before it takes memory', () => {
    expect(() => decodeTexture(new TextEncoder().encode('GIF89a'))).toThrow('neither PNG nor JPEG');
    tool('oiiotool', '--create', '4x4', '3', '-o', scratch('small.png'));
    const bytes = readScratch('small.png').slice();
    new DataView(bytes.buffer).setUint32(16, 500_000);
    expect(() => decodeTexture(bytes)).toThrow('larger than');
  });
});

describe('sampling', () => {
  const WRAPS: Wrap[] = ['repeat', 'mirror', 'clamp'];
  /** The texel that a whole coordinate means, by going there step by step. */
  function texel(i: number, size: number, wrap: Wrap): number {
    if (wrap === 'clamp') return Math.min(size - 1, Math.max(0, i));
    let at = 0;
    let way = 1;
    for (let step = 0; step < Math.abs(i); step++) {
      const next = at + way * (i < 0 && wrap === 'repeat' ? -1 : 1);
      if (next >= 0 && next < size) at = next;
      else if (wrap === 'repeat') at = next < 0 ? size - 1 : 0;
      else way = -way;
    }
    // A mirror before the first texel shows the first one again.
    return wrap === 'mirror' && i < 0 ? texel(-i - 1, size, 'mirror') : at;
  }

  test('at the centre of a texel gives that texel, however it is wrapped', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: -14, max: 14 }),
        fc.integer({ min: -14, max: 14 }),
        fc.constantFrom(...WRAPS),
        fc.constantFrom(...WRAPS),
        (width, height, x, y, wrapS, wrapT) => {
          const data = Uint8Array.from({ length: 4 * width * height }, (_, i) => (i * 37) % 256);
          const texture: Texture = { width, height, data, wrapS, wrapT };
          const out = new Float64Array(4);
          sampleTexture(texture, (x + 0.5) / width, (y + 0.5) / height, false, out);
          const at = 4 * (texel(y, height, wrapT) * width + texel(x, width, wrapS));
          for (let k = 0; k < 4; k++) expect(out[k]).toBeCloseTo(data[at + k]! / 255, 6);
        },
      ),
    );
  });

  test('between texels mixes light, not the numbers of the curve', () => {
    const texture: Texture = {
      width: 2,
      height: 1,
      data: Uint8Array.of(0, 0, 0, 255, 255, 255, 255, 0),
      wrapS: 'clamp',
      wrapT: 'clamp',
    };
    const out = new Float64Array(4);
    sampleTexture(texture, 0.5, 0.5, true, out);
    expect([...out]).toEqual([0.5, 0.5, 0.5, 0.5]);
  });

  test('where the coordinates are no numbers nothing is there', () => {
    const texture: Texture = {
      width: 1,
      height: 1,
      data: Uint8Array.of(9, 9, 9, 9),
      wrapS: 'repeat',
      wrapT: 'repeat',
    };
    const out = Float64Array.of(1, 1, 1, 1);
    sampleTexture(texture, NaN, 0.5, true, out);
    expect([...out]).toEqual([0, 0, 0, 0]);
  });
});
