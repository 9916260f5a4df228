import type { Area } from '../planes/area.ts';

/** What can be done about a finding with one click: what the button says, and what it does. */
export interface Remedy {
  label: string;
  /** Lays a file whose frame is of another size into that of the picture, in pixels from its upper left corner. */
  place: { file: string; x: number; y: number };
}

/** Something worth telling about a file: `code` is stable, `message` is for people and says what to do. */
export interface Finding {
  severity: 'error' | 'warning' | 'info';
  code: string;
  message: string;
  /** Where in the picture, in pixels of its data window. */
  places?: Area[];
  remedy?: Remedy;
}
