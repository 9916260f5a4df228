import type { Area } from '../../planes/area.ts';
import { lengthIn, round, shareOf, toPixels, toShares } from '../../planes/shares.ts';
import type { Size } from '../../planes/size.ts';
import type { Handle } from './fence-kind.ts';
import type { Point } from './point.ts';

const { abs, atan2, cos, max, min, sin } = Math;

export const turned = ([x, y]: Point, degrees: number): Point => {
  const a = (degrees * Math.PI) / 180;
  return [x * cos(a) - y * sin(a), x * sin(a) + y * cos(a)];
};

/**
 * Coverage from the distance to a border, negative inside: a straight fall over `soft` pixels, at least one, so that a
 * sharp border is as smooth as one that was rendered.
 */
export function coverBy(
  distance: (x: number, y: number) => number,
  soft: number,
  area: Area,
  out: Float32Array,
): void {
  const over = max(1, soft);
  let i = 0;
  for (let y = area.y0; y < area.y1; y++)
    for (let x = area.x0; x < area.x1; x++)
      out[i++] = min(1, max(0, 0.5 - distance(x + 0.5, y + 0.5) / over));
}

/** The settings of shapes that have a middle, two sizes and an angle. */
export interface Placed {
  x: number;
  y: number;
  width: number;
  height: number;
  angle: number;
  soft: number;
}

/** Pixel coordinates as the shape sees them: its middle at the origin, not turned; and half its sizes. */
export function placedIn(frame: Size, v: Readonly<Placed>) {
  const [cx, cy] = toPixels(frame, v.x, v.y);
  return {
    own: (x: number, y: number): Point => turned([x - cx, y - cy], -v.angle),
    half: [lengthIn(frame, v.width) / 2, lengthIn(frame, v.height) / 2] as Point,
    /** A place of the shape's own in the picture. */
    back: (p: Point): Point => {
      const [x, y] = turned(p, v.angle);
      return [x + cx, y + cy];
    },
  };
}

/** Handles of shapes with a middle, two sizes and an angle. */
export function placedHandles(frame: Size, v: Readonly<Placed>): Handle[] {
  const { half, back } = placedIn(frame, v);
  return [
    { key: 'middle', label: 'Move', at: back([0, 0]) },
    { key: 'width', label: 'Width', at: back([half[0], 0]) },
    { key: 'height', label: 'Height', at: back([0, half[1]]) },
    { key: 'angle', label: 'Turn', at: back([0, -half[1] - 0.04 * frame.width]) },
    { key: 'soft', label: 'Softness', at: back([-half[0] - lengthIn(frame, v.soft) / 2, 0]) },
  ];
}

/** Their values after a handle was moved. */
export function dragPlaced(frame: Size, v: Readonly<Placed>, handle: string, to: Point): Partial<Placed> {
  const { own, half } = placedIn(frame, v);
  const [x, y] = own(...to);
  switch (handle) {
    case 'middle': {
      const [px, py] = toShares(frame, to);
      return { x: px, y: py };
    }
    case 'width':
      return { width: shareOf(frame, 2 * abs(x)) };
    case 'height':
      return { height: shareOf(frame, 2 * abs(y)) };
    case 'angle': {
      const turn = v.angle + (atan2(x, -y) * 180) / Math.PI;
      return { angle: round(((((turn + 180) % 360) + 360) % 360) - 180) };
    }
    default:
      return { soft: shareOf(frame, min(frame.width, 2 * max(0, -x - half[0]))) };
  }
}
