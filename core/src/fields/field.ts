/** What every setting has: a key under which its value is stored, and a label for people. */
interface Base {
  key: string;
  label: string;
}

/** A number with its unit and limits. */
export interface NumberField extends Base {
  kind: 'number';
  unit: string;
  /** Hard limits, enforced by the schema. */
  min: number;
  max: number;
  /** What a slider spans, if less than the limits; numbers typed in may go to those. */
  softMin?: number;
  softMax?: number;
  step: number;
  neutral: number;
  /** What a slider shows along its way: the hues of Oklab's circle. */
  scale?: 'hue';
  /** It makes sense to drag it in the picture, on the part itself. */
  inPicture?: true;
  /** What it is set to when a thing with it is added, where the neutral value would show nothing. */
  initial?: number;
}
/** A value from 0 to 1 for each of red, green and blue, scene-linear. */
export type ColourValue = readonly [r: number, g: number, b: number];
/** Points of a curve, rising in x; 0 to 1 in both directions unless the field says otherwise. */
export type PointsValue = readonly (readonly [x: number, y: number])[];
/** A picture file that is kept with the shot: where it is stored, and what it is called. */
export interface PictureValue {
  file: string;
  name: string;
}
/** Things of a scene: those with a number, or by names and globs. */
export type WhoValue =
  | { of: 'object number' | 'material number'; number: number }
  | { of: 'objects' | 'materials'; members: string[] };

/**
 * One thing that can be set: the only description of it, from which its schema, its control and its neutral value come.
 * `neutral` is the value that changes nothing, or the usual one where nothing is neutral.
 */
export type Field =
  | NumberField
  | (Base & { kind: 'choice'; options: { value: string; label: string }[]; neutral: string })
  | (Base & { kind: 'text'; hint: string; neutral: string })
  | (Base & { kind: 'switch'; neutral: boolean })
  /** A colour that is chosen has at least `least` in each channel, where black means that none is. */
  | (Base & { kind: 'colour'; max: number; least?: number; neutral: ColourValue })
  /** A number for each of red, green and blue that is no colour. */
  | (Base & { kind: 'rgb'; min: number; max: number; step: number; neutral: ColourValue })
  /**
   * Another pass of the version, by its name; the empty name is none. `like` matches the names it is meant for; without an
   * optional one there is something to do, too.
   */
  | (Base & { kind: 'pass'; like?: string; optional?: true; neutral: string })
  | (Base & { kind: 'picture'; neutral: PictureValue })
  | (Base & { kind: 'points'; most: number; neutral: PointsValue })
  /**
   * By how much a value is changed, in its unit up to `reach` either way, along an axis from 0 to 1: how bright a channel
   * is on the screen, hue, or lightness. No points are a flat line, which changes nothing.
   */
  | (Base & {
      kind: 'curve';
      axis: 'light' | 'hue' | 'lightness';
      unit: string;
      reach: number;
      most: number;
      neutral: PointsValue;
    })
  /** May be left open if `optional`; there is no neutral one. */
  | (Base & { kind: 'who'; optional: boolean; neutral?: undefined });

/** Any value that some field can hold, as it is stored in a document. */
export type FieldValue = number | string | boolean | ColourValue | PointsValue | PictureValue | WhoValue;

/** Stored values by key; what is neutral may be left out. */
export type FieldValues = Readonly<Record<string, FieldValue>>;
