import type { CastLayer } from '../../cast/cast.ts';
import type { FieldValue, FieldValues, PointsValue } from '../../fields/field.ts';
import { middlesOf } from '../../idindex/middles.ts';
import { displayOf, type Size } from '../../planes/size.ts';
import type { Point } from './point.ts';

/** A shape goes with a member: it is moved as far as the member's middle is from where that was. */
export interface Follow {
  /** The ID layer, and the member's name in it. */
  layer: string;
  member: string;
  /** Where its middle was when the shape was placed; percent of the display window across and down. */
  from: Point;
}

/** The middle of a member, weighted by coverage, in percent of the display window; undefined where the frame does not show it. */
export function middleOfMember(layer: CastLayer | undefined, member: string, frame: Size): Point | undefined {
  const id = layer?.members.find((m) => m.name === member)?.id;
  const slot = id === undefined ? undefined : layer!.index.slotOf.get(id);
  if (slot === undefined) return undefined;
  const { x0, y0, x1, y1 } = displayOf(frame);
  const { x, y } = middlesOf(layer!.index);
  const at: Point = [(100 * (x[slot]! - x0)) / (x1 - x0), (100 * (y[slot]! - y0)) / (y1 - y0)];
  return at.every(Number.isFinite) ? at : undefined;
}

/** How far a shape that follows is from where it was placed; nothing where its member is not seen. */
export function wayOf(follow: Follow | undefined, cast: readonly CastLayer[], frame: Size): Point {
  const layer = follow && cast.find((l) => l.name === follow.layer);
  const now = follow && middleOfMember(layer, follow.member, frame);
  return now ? [now[0] - follow.from[0], now[1] - follow.from[1]] : [0, 0];
}

/** Settings that are places across and down the picture, of whatever shape. */
const ACROSS = ['x', 'toX'];
const DOWN = ['y', 'toY'];

/** Values of a shape that lies elsewhere by so much of the display window, in percent. All that it has must be told. */
export function shifted(values: FieldValues, [dx, dy]: Point): Record<string, FieldValue> {
  const moved = (key: string, value: FieldValue): FieldValue => {
    if (key === 'points') return (value as PointsValue).map(([x, y]) => [x + dx, y + dy] as const);
    if (ACROSS.includes(key)) return (value as number) + dx;
    return DOWN.includes(key) ? (value as number) + dy : value;
  };
  return Object.fromEntries(Object.entries(values).map(([key, value]) => [key, moved(key, value!)]));
}
