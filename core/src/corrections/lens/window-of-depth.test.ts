import { fileOf, openFiles } from '../../../test/fixtures/frames.ts';
import { makeFloat, makeString } from '../../formats/exr/attributes.ts';
import { readExr } from '../../formats/exr/read.ts';
import { writeExr } from '../../formats/exr/write.ts';
import { windowOfDepth } from './window-of-depth.ts';

/** A wall at a distance of 4, square to a camera that sees 90 degrees across: as depth along rays, and along the axis. */
const [WIDTH, HEIGHT] = [80, 60];
const away = (i: number) => {
  const x = (2 * ((i % WIDTH) + 0.5)) / WIDTH - 1;
  const y = (2 * (Math.floor(i / WIDTH) + 0.5 - HEIGHT / 2)) / WIDTH;
  return 4 * Math.hypot(x, y, 1);
};
const rays = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => away(i));
const whole = (view: object | undefined, meaning: { along: string; view: number }) =>
  windowOfDepth(
    {
      area: { x0: 0, y0: 0, x1: WIDTH, y1: HEIGHT },
      margin: 3,
      frame: { width: WIDTH, height: HEIGHT, ...(view ? { view } : {}) },
      planes: { width: WIDTH + 6, height: HEIGHT + 6 } as never,
    },
    rays,
    meaning,
  );
const isWall = (depth: Float32Array) => Math.max(...depth.map((d) => Math.abs(d - 4))) < 1e-5;

test.each([
  ['by settings', undefined, { along: 'ray', view: 90 }],
  ['by the file', { width: 2, along: 'ray' }, { along: 'file', view: 0 }],
  ['by the file’s angle', { width: 2 }, { along: 'ray', view: 0 }],
])('depth along rays is brought to the view axis %s', (_, view, meaning) => {
  expect(isWall(whole(view, meaning))).toBe(true);
});
test.each([
  ['where the file says nothing', undefined, { along: 'file', view: 0 }],
  ['where the setting says axis', { width: 2, along: 'ray' }, { along: 'axis', view: 90 }],
  ['where no angle is known', { along: 'ray' }, { along: 'file', view: 0 }],
])('depth stays as it is %s', (_, view, meaning) => {
  const depth = whole(view, meaning);
  expect(depth[3 * (WIDTH + 6) + 3]).toBe(rays[0]!);
  // Beyond the border its last pixels repeat.
  expect(depth[0]).toBe(rays[0]!);
});

test('with overscan the angle is that of the display window', () => {
  // The same wall, with a third more of it on the right and below that is not in the display window.
  const [width, height] = [WIDTH + 20, HEIGHT + 10];
  const depth = Float32Array.from(
    { length: width * height },
    (_, i) =>
      4 *
      Math.hypot(
        (2 * ((i % width) + 0.5)) / WIDTH - 1,
        (2 * (Math.floor(i / width) + 0.5 - HEIGHT / 2)) / WIDTH,
        1,
      ),
  );
  const frame = { width, height, display: { x0: 0, y0: 0, x1: WIDTH, y1: HEIGHT } };
  const area = { x0: 0, y0: 0, x1: width, y1: height };
  const planes = { width, height } as never;
  expect(isWall(windowOfDepth({ area, margin: 0, frame, planes }, depth, { along: 'ray', view: 90 }))).toBe(
    true,
  );
});

test('what a file says is taken, and 1 is what is written where nothing is known', async () => {
  const plain = fileOf({ B: () => 1, G: () => 1, R: () => 1 });
  const { header, channels } = readExr(plain);
  const told = writeExr({
    dataWindow: header.dataWindow,
    channels,
    attributes: [makeFloat('screenWindowWidth', 0.75), makeString('zestyCrow/depthAlong', 'ray')],
  });
  const viewOf = async (bytes: Uint8Array) => (await (await openFiles({ 'a.exr': bytes })).all()).planes.view;
  expect(await viewOf(told)).toEqual({ width: 0.75, along: 'ray' });
  expect(await viewOf(writeExr({ dataWindow: header.dataWindow, channels }))).toBeUndefined();
});
