/**
 * The folder of a client who renders elsewhere: pictures and ID passes in the forms that carry no names, made of our own
 * renders, with the faults that such folders have. One buffer is turned round, one mask is a JPEG, a frame is missing.
 */
import { readFileSync } from 'node:fs';
import jpeg from 'jpeg-js';
import { clientFiles } from './client-files.ts';
import {
  asFlatColour,
  asNumberPass,
  idOfName,
  maskOfMember,
  maskToPng,
  numbered,
  openFrame,
  pictureToPng,
  srgbToLinear,
  type IdIndex,
} from '@zesty-crow/core';

const SETS = [
  [
    ['hive/roof', 'hive/box_upper', 'hive/box_lower'],
    ['smoker/can', 'smoker/hood', 'smoker/bellows'],
    ['cloth'],
  ],
  [
    ['jars/jar_1/glass', 'jars/jar_2/glass'],
    ['jars/jar_1/lid', 'jars/jar_2/lid'],
    ['jars/jar_1/label', 'jars/jar_2/label'],
  ],
] as const;
const BUFFERS = { 7: ['bees/bee_flying'], 8: ['smoker/can', 'smoker/hood'], 9: ['jars/jar_1/lid'] } as const;
const IN_JPEG = ['jars/jar_1/label', 'jars/jar_2/label'];
/** The one that is turned round. */
const INVERTED = 8;

/** Makes the files of a frame from one of our own renders. */
export async function clientFrame(render: URL, frame: number): Promise<Map<string, Uint8Array>> {
  const bytes = new Uint8Array(readFileSync(render));
  const open = await openFrame([{ role: 'picture', name: 'render.exr', frame: null }], undefined, () =>
    Promise.resolve(bytes),
  );
  const layer = open.layers.find((l) => l.name === 'CryptoObject')!;
  const index = await open.index(layer);
  const { header, width, height } = open;
  const mask = (members: readonly string[]) => maskOf(index, members);
  /** Three planes of values for a screen, 8 bits. */
  const picture8 = ([r, g, b]: readonly Float32Array[]) =>
    pictureToPng(
      { width, height, r: r!.map(srgbToLinear), g: g!.map(srgbToLinear), b: b!.map(srgbToLinear) },
      header,
      8,
    );
  const buffer = (number: 7 | 8 | 9) => {
    const plane = mask(BUFFERS[number]);
    return maskToPng(number === INVERTED ? plane.map((v) => 1 - v) : plane, header);
  };
  const members = numbered([...layer.manifest.nameOf].map(([id, name]) => ({ id, name })));
  const flat = asFlatColour.write('objects', index, members).channels.map((c) => c.data as Float32Array);
  const made = [
    pictureToPng(await open.picture(), header, 16),
    ...SETS.map((set) => picture8(set.map(mask))),
    ...([7, 8, 9] as const).map(buffer),
    grey(mask(IN_JPEG), width, height),
    picture8(flat),
    picture8(outlined(index, members, flat)),
  ];
  return new Map(clientFiles(frame).map((name, i) => [name, made[i]!]));
}

function maskOf(index: IdIndex, members: readonly string[]): Float32Array {
  const sum = new Float32Array(index.width * index.height);
  for (const name of members)
    maskOfMember(index, idOfName(name))
      .flat()
      .forEach((v, p) => (sum[p]! += v));
  return sum.map((v) => Math.min(1, v));
}

/** A mask as a JPEG, which it should never be. */
function grey(plane: Float32Array, width: number, height: number): Uint8Array {
  const data = new Uint8Array(4 * plane.length);
  plane.forEach((v, p) => data.fill(Math.round(255 * v), 4 * p, 4 * p + 4));
  return new Uint8Array(jpeg.encode({ data, width, height }, 70).data);
}

/** The same flat colours without soft edges, and a dark line wherever two things meet. */
function outlined(
  index: IdIndex,
  members: ReturnType<typeof numbered>,
  flat: readonly Float32Array[],
): Float32Array[] {
  const { width } = index;
  const [numbers] = asNumberPass.write('objects', index, members).channels;
  const front = numbers!.data as Float32Array;
  /** Colours by number: of a pixel that is wholly its own. */
  const colourOf = new Map<number, number[]>();
  const whole = maskSums(index);
  front.forEach((n, p) => {
    if (!colourOf.has(n) && whole[p] === 1)
      colourOf.set(
        n,
        flat.map((plane) => plane[p]!),
      );
  });
  return flat.map((_, k) =>
    front.map((n, p) => {
      const edge = ((p + 1) % width > 0 && front[p + 1] !== n) || (front[p + width] ?? n) !== n;
      return edge ? 0 : (colourOf.get(n)?.[k] ?? 0);
    }),
  );
}

/** The largest coverage in each pixel. */
function maskSums(index: IdIndex): Float32Array {
  const most = new Float32Array(index.width * index.height);
  for (let i = 0; i < index.slot.length; i++)
    for (let p = index.pixel[i]!; p < index.pixel[i]! + index.length[i]!; p++)
      most[p] = Math.max(most[p]!, index.coverage[i]!);
  return most;
}
