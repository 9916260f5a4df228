import type { Area } from '../planes/area.ts';

/** Lays a file whose frame is of another size, or that is moved, into that of the picture: pixels from its corner. */
export interface PlaceRemedy {
  place: { file: string; x: number; y: number };
}
/** Takes the values of a layer as made for a screen, or as light. */
export interface EncodingRemedy {
  encoding: { layer: string; display: boolean };
}
/** Writes a new file in the place of the one that holds a layer; `what` is a kind of mending. */
export interface MendRemedy {
  mend: Mending;
}
/** What is written anew, and how: plain data, sent to whoever writes. */
export interface Mending {
  what: string;
  layer: string;
  /** Numbers that the kind of mending needs. */
  numbers?: Record<string, number>;
}

/** What can be done about a finding with one click: what the button says, and what it does. All can be undone. */
export type Remedy = { label: string } & (PlaceRemedy | EncodingRemedy | MendRemedy);

/** Something worth telling about a file: `code` is stable, `message` is for people and says what to do. */
export interface Finding {
  severity: 'error' | 'warning' | 'info';
  code: string;
  message: string;
  /** Where in the picture, in pixels of its data window. */
  places?: Area[];
  remedy?: Remedy;
}

/** Codes that were renamed, by their former name: scripts that know the old one go on. */
export const FORMER_CODES: Readonly<Record<string, string>> = { 'name-clash': 'ids-clash' };

/** True if a finding is of a code, by its name of today or a former one. */
export const isFinding = ({ code }: Pick<Finding, 'code'>, wanted: string): boolean =>
  code === (FORMER_CODES[wanted] ?? wanted);
