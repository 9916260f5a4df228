import type { Region } from '@zesty-crow/core';
import type { SamplePlace } from '../messages.ts';
import type { OpenFrame } from '../open-frame.ts';

/** The pixels that a place stands for; undefined where a change has no mask. */
export function regionOf(open: OpenFrame, where: 'frame' | SamplePlace): Region | undefined {
  if (where === 'frame') return { of: 'frame' };
  if ('changeId' in where) {
    const mask = open.stack.mask(where.changeId);
    return mask && { of: 'mask', mask };
  }
  const half = (where.side - 1) / 2;
  const [x0, y0] = [where.x - half, where.y - half];
  return { of: 'area', area: { x0, y0, x1: x0 + where.side, y1: y0 + where.side } };
}
