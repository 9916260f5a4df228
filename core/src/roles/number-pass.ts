import { srgbToLinear } from '../colour/srgb.ts';
import type { Finding } from '../findings/finding.ts';
import type { ChannelInfo } from '../formats/exr/types.ts';
import { idOfName, NO_ID } from '../idlayers/ids.ts';
import { edgesOfNumbers } from './numbers/edge-of-numbers.ts';
import { nameOfNumber, oneChannel, PIECES, wordsOf, type NumberPassUse, type RoleKind } from './role.ts';

const NAMED =
  /^(number|numbers|numberpass|index|objectindex|materialindex|idnumber|indexob|indexma|objectid|materialid)$/;
/** More different numbers than this are none: a depth, or noise. */
const MOST_NUMBERS = 20_000;

/** What a sample has to be multiplied by to be the number that was meant: grey levels are shares of the largest. */
const scaleOf = ({ type, bits }: ChannelInfo): number =>
  type === 'float' && bits !== undefined && bits < 32 ? 2 ** bits - 1 : 1;

/** The different numbers of a plane, rising, and how many of its pixels hold something that is none. */
export function numbersIn(plane: Float32Array, scale: number): { numbers: number[]; odd: number } {
  const found = new Set<number>();
  let odd = 0;
  for (let p = 0; p < plane.length; p++) {
    const value = plane[p]! * scale;
    const number = Math.round(value);
    if (!(Math.abs(value - number) < 0.01)) odd++;
    else found.add(number);
    if (found.size > MOST_NUMBERS) break;
  }
  return { numbers: [...found].sort((a, b) => a - b), odd };
}

/** The picture as light: what was made for a screen is brought to light. */
export const lightOf = (beauty: readonly ChannelInfo[], planes: readonly Float32Array[]): Float32Array[] =>
  beauty.map((info, i) => (info.encoding === 'display' ? planes[i]!.map(srgbToLinear) : planes[i]!));

/** One whole number a pixel, 0 for nothing; edges are rebuilt. */
export const numberPass: RoleKind<NumberPassUse> = {
  role: 'number-pass',
  label: 'Number pass',
  purpose: 'A whole number a pixel. Its hard edges are rebuilt from the picture.',
  schema: {
    required: ['role'],
    properties: { role: { const: 'number-pass' }, channel: PIECES.channel, names: PIECES.names },
  },
  proposes({ name, channels }) {
    const words = wordsOf(name);
    const named = [...words, words.join('')].some((w) => NAMED.test(w));
    return named && channels.length === 1 ? { role: 'number-pass' } : undefined;
  },
  keyOf: ([info], [value]) => String(Math.round(value! * scaleOf(info!))),
  async survey(layer, { channel, names = {} }, source) {
    const own = oneChannel(layer, channel);
    if (!own) return undefined;
    const scale = scaleOf(own);
    const plane = (await source.read([own.name])).get(own.name)!;
    const { numbers, odd } = numbersIn(plane, scale);
    const findings: Finding[] = [];
    if (numbers.length > MOST_NUMBERS) {
      const message = `${layer.name} was to be a number pass, but holds more than ${MOST_NUMBERS.toLocaleString('en')} different values. It seems to be something else; say what it is.`;
      return {
        names: [],
        findings: [{ severity: 'warning', code: 'ids-filtered', message }],
        from: [],
        make: () => Promise.resolve(),
      };
    }
    if (odd > 0)
      findings.push({
        severity: 'error',
        code: 'ids-filtered',
        message: `${layer.name}: ${odd.toLocaleString('en')} pixels hold no whole number. The pass was smoothed or resized after rendering, and numbers between two others stand for nothing. Render it again without anti-aliasing.`,
      });
    const members = numbers
      .filter((n) => n !== 0)
      .map((n): readonly [string, number, number] => {
        const name = names[String(n)] || nameOfNumber(n);
        return [name, idOfName(name), n];
      });
    const from = [own, ...source.beauty];
    return {
      names: members.map(([name, id, n]) => [name, id, String(n)] as const),
      findings,
      from,
      async make([values, ...picture], out, size, crew) {
        const place = new Map(members.map(([, , number], i) => [number, i + 1]));
        const labels = new Uint16Array(crew.allocate(2 * values!.length));
        for (let p = 0; p < labels.length; p++) labels[p] = place.get(Math.round(values![p]! * scale)) ?? 0;
        const idOf = Uint32Array.of(NO_ID, ...members.map(([, id]) => id));
        const beauty = lightOf(source.beauty, picture).map((light) => seen(light, crew.allocate));
        await crew.share(edgesOfNumbers, { ...size, labels, idOf, beauty, out });
      },
    };
  },
};

/** A plane in memory that the crew sees. */
export function seen(plane: Float32Array, allocate: (bytes: number) => ArrayBufferLike): Float32Array {
  const shared = new Float32Array(allocate(plane.byteLength));
  shared.set(plane);
  return shared;
}
