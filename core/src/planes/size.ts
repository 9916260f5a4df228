import type { Area } from './area.ts';

/** Pixels across and down. */
export interface Size {
  width: number;
  height: number;
  /** Where its display window lies in it, if a picture was rendered with overscan; otherwise all of it is that. */
  display?: Area | undefined;
}

/** What everything that is placed in shares of a picture goes by: its display window, which overscan does not move. */
export const displayOf = ({ width, height, display }: Size): Area =>
  display ?? { x0: 0, y0: 0, x1: width, y1: height };

/** Two pictures of which a pixel and a share are the same place. */
export const sameSize = (a: Size, b: Size): boolean => {
  const [p, q] = [displayOf(a), displayOf(b)];
  return (
    a.width === b.width &&
    a.height === b.height &&
    p.x0 === q.x0 &&
    p.y0 === q.y0 &&
    p.x1 === q.x1 &&
    p.y1 === q.y1
  );
};
