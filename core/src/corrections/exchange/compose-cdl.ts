import { wholeValues } from '../../fields/values.ts';
import type { ColourValue, FieldValues } from '../../fields/field.ts';
import { correctionOf } from '../registry.ts';
import { slopeOffsetPower } from '../slope-offset-power.ts';

/** Numbers of one correction of ASC CDL. */
interface Cdl {
  slope: ColourValue;
  offset: ColourValue;
  power: ColourValue;
  saturation: number;
}
const NEUTRAL: Cdl = { slope: [1, 1, 1], offset: [0, 0, 0], power: [1, 1, 1], saturation: 1 };

const three = (of: (k: number) => number): ColourValue => [of(0), of(1), of(2)];
const all = (values: ColourValue, is: number) => values.every((v) => v === is);

/** Kinds of corrections that are one of ASC CDL by themselves. */
const AS_CDL: Record<string, (values: FieldValues) => Cdl> = {
  exposure: ({ stops }) => ({ ...NEUTRAL, slope: three(() => 2 ** (stops as number)) }),
  multiply: ({ by }) => ({ ...NEUTRAL, slope: by as ColourValue }),
  [slopeOffsetPower.kind]: (values) => values as unknown as Cdl,
};

/** Whether a correction kind can be written as one of ASC CDL. */
export const isCdl = (kind: string): boolean => kind in AS_CDL;

/**
 * Two corrections as one, where that is exact: gains before anything, and after it those that are the same for all
 * channels, because g · x^p is (g^(1/p) · x)^p, and saturation leaves them alone. Otherwise light that is cut off at 0, or
 * colours that are mixed, stand in between. Undefined where it is not.
 */
function put(first: Cdl, next: Cdl): Cdl | undefined {
  const gains = ({ offset, power, saturation }: Cdl) => all(offset, 0) && all(power, 1) && saturation === 1;
  if (gains(first)) return { ...next, slope: three((k) => first.slope[k]! * next.slope[k]!) };
  if (!gains(next)) return undefined;
  const plain = all(first.power, 1) && first.saturation === 1;
  const [gain] = next.slope;
  if (!plain && !(all(next.slope, gain) && gain > 0)) return undefined;
  const by = three((k) => next.slope[k]! ** (1 / first.power[k]!));
  return {
    ...first,
    slope: three((k) => first.slope[k]! * by[k]!),
    offset: three((k) => first.offset[k]! * by[k]!),
  };
}

/** Corrections one after another as a single one of ASC CDL; undefined where that would not be exact. */
export function composeCdl(steps: readonly { kind: string; values: FieldValues }[]): FieldValues | undefined {
  let made: Cdl | undefined = NEUTRAL;
  for (const { kind, values } of steps) {
    const own = AS_CDL[kind]?.(wholeValues(correctionOf(kind)!.fields, values));
    made = own && made && put(made, own);
  }
  return made && { ...made };
}
