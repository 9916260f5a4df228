import type { Area } from '../planes/area.ts';

/** Something worth telling about a file: `code` is stable, `message` is for people and says what to do. */
export interface Finding {
  severity: 'error' | 'warning' | 'info';
  code: string;
  message: string;
  /** Where in the picture, in pixels of its data window. */
  places?: Area[];
}
