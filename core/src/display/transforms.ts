import { linearToSrgb } from '../colour/srgb.ts';

/** How scene-linear light becomes what a screen shows: each channel by a curve, 0 to 1 and beyond, for looking only. */
export interface DisplayTransform {
  name: string;
  label: string;
  hint: string;
  curve(value: number): number;
}

/** From here on highlights are rolled off, scene-linear. */
const KNEE = 0.5;

/** Light up to the knee as it is; above it falls off exponentially towards white, with the same slope at the knee. */
const rolledOff = (v: number): number =>
  v <= KNEE ? v : KNEE + (1 - KNEE) * (1 - Math.exp(-(v - KNEE) / (1 - KNEE)));

/** Every display transform there is, in the order in which the interface offers them. */
export const DISPLAY_TRANSFORMS: readonly DisplayTransform[] = [
  { name: 'srgb', label: 'sRGB', hint: 'For a computer screen (IEC 61966-2-1).', curve: linearToSrgb },
  {
    name: 'rec709',
    label: 'Rec. 709',
    hint: 'For a video screen with a gamma of 2.4 (ITU-R BT.1886).',
    curve: (v) => Math.sign(v) * Math.abs(v) ** (1 / 2.4),
  },
  {
    name: 'soft',
    label: 'Soft highlights',
    hint: 'sRGB with highlights rolled off softly, so that what is brighter than white is still told apart.',
    curve: (v) => linearToSrgb(rolledOff(v)),
  },
  { name: 'raw', label: 'Raw', hint: 'Values as they are, as data.', curve: (v) => v },
];
