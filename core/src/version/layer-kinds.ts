/** How a pass is made into a picture that can be looked at. */
export type PassDisplay = 'light' | 'range' | 'directions' | 'share' | 'ids' | 'numbers';

/** What a kind of pass is called, what it is for, and how it is shown. */
export interface LayerKind {
  kind: string;
  label: string;
  /** In a line. */
  purpose: string;
  shownAs: PassDisplay;
  /** Names of layers that are of this kind. */
  name: RegExp;
  /** How many channels it has: one, or three and more. */
  channels: 'one' | 'three' | 'any';
  /** True for a part of the light: all such parts together are the picture. */
  adds?: boolean;
}

/** Name of the layer that a channel belongs to; R, G, B and A without one are `RGBA`. */
export function layerOfChannel(channel: string): string {
  const dot = channel.lastIndexOf('.');
  if (dot >= 0) return channel.slice(0, dot);
  return channel.length === 1 && 'RGBA'.includes(channel) ? 'RGBA' : channel;
}

/**
 * Kinds of passes by the names that renderers give them; the first that fits is it. Names are compared word by word,
 * without case.
 */
export const LAYER_KINDS: readonly LayerKind[] = [
  {
    kind: 'depth',
    label: 'Depth',
    purpose: 'How far away each pixel is: for haze, for what lies behind something.',
    shownAs: 'range',
    name: /^(z|depth|zdepth|distance)$/,
    channels: 'one',
  },
  {
    kind: 'mist',
    label: 'Mist',
    purpose: 'Depth between two distances, 0 to 1: for haze.',
    shownAs: 'share',
    name: /^(mist|fog)$/,
    channels: 'one',
  },
  {
    kind: 'normals',
    label: 'Normals',
    purpose: 'Which way each surface faces: for light from a side.',
    shownAs: 'directions',
    name: /^(n|normals?|nrm)$/,
    channels: 'three',
  },
  {
    kind: 'position',
    label: 'Position',
    purpose: 'Where each pixel is in the scene: for masks by place.',
    shownAs: 'range',
    name: /^(p|pos|position|world)$/,
    channels: 'three',
  },
  {
    kind: 'motion',
    label: 'Motion',
    purpose: 'How each pixel moves until the next frame: for motion blur.',
    shownAs: 'range',
    name: /^(motion|velocity|vector|motionvector)$/,
    channels: 'any',
  },
  {
    kind: 'occlusion',
    label: 'Ambient occlusion',
    purpose: 'How much of the sky each point sees: multiply by it to deepen corners.',
    shownAs: 'share',
    name: /^(ao|occlusion|ambientocclusion)$/,
    channels: 'any',
  },
  {
    kind: 'base-colour',
    label: 'Base colour',
    purpose: 'Colour of the material without light: for recolouring it alone.',
    shownAs: 'light',
    name: /^(albedo|base|basecolor|basecolour|diffusecolor|diffusefilter)$/,
    channels: 'three',
  },
  {
    kind: 'shadow',
    label: 'Shadow',
    purpose: 'Where shadows fall: for making them lighter, darker or warmer.',
    shownAs: 'share',
    name: /^shadows?$/,
    channels: 'any',
  },
  {
    kind: 'emission',
    label: 'Emission',
    purpose: 'What shines by itself: for glow.',
    shownAs: 'light',
    name: /^(emission|emissive|emit|incandescence)$/,
    channels: 'three',
    adds: true,
  },
  {
    kind: 'reflection',
    label: 'Reflection',
    purpose: 'Light that is mirrored: for calming or lifting shine.',
    shownAs: 'light',
    name: /^(reflection|reflections|specular|spec|glossy|coat)$/,
    channels: 'three',
    adds: true,
  },
  {
    kind: 'refraction',
    label: 'Refraction',
    purpose: 'Light that comes through glass and liquids.',
    shownAs: 'light',
    name: /^(refraction|transmission)$/,
    channels: 'three',
    adds: true,
  },
  {
    kind: 'diffuse',
    label: 'Diffuse light',
    purpose: 'Light that is scattered back by surfaces.',
    shownAs: 'light',
    name: /^(diffuse|diff|sss|subsurface|gi|indirect|direct)$/,
    channels: 'three',
    adds: true,
  },
  {
    kind: 'coverage',
    label: 'Mask',
    purpose: 'A share of each pixel, 0 to 1: can be a mask.',
    shownAs: 'share',
    name: /^(a|alpha|mask|matte|buffer|coverage)$/,
    channels: 'one',
  },
];

/** Kinds of what no name tells. */
const COLOUR: LayerKind = {
  kind: 'colour',
  label: 'Colours',
  purpose: 'Three channels, shown as colours.',
  shownAs: 'light',
  name: /^/,
  channels: 'three',
};
const NUMBERS: LayerKind = {
  kind: 'numbers',
  label: 'Numbers',
  purpose: 'A channel of data, shown between its smallest and its largest value.',
  shownAs: 'range',
  name: /^/,
  channels: 'one',
};

/** What a layer of channels is, by its name and their number. */
export function layerKindOf(name: string, channels: number): LayerKind {
  const whole = name.toLowerCase().replaceAll(/[\s._-]+/g, '');
  const words = [whole, ...name.toLowerCase().split(/[\s._-]+|\d+/)].filter((w) => w !== '');
  const fits = (k: LayerKind) =>
    (k.channels === 'any' || (k.channels === 'one') === channels < 3) && words.some((w) => k.name.test(w));
  return LAYER_KINDS.find(fits) ?? (channels >= 3 ? COLOUR : NUMBERS);
}
