import { idsAt, NO_ID, type CastLayer } from '@zesty-crow/core';
import { nameOf, type OpenFrame } from '../open-frame.ts';

/** A member of a layer by its ID and name. */
export interface NamedId {
  id: number;
  name: string;
}

/** The IDs at a pixel, largest coverage first. */
export const idsHere = (open: OpenFrame, layer: CastLayer, x: number, y: number) =>
  idsAt(layer.index, x, y).map(({ slot, coverage }) => {
    const id = layer.index.ids[slot]!;
    return { id, name: nameOf(open, layer.name, id), coverage };
  });

/** Members by their slots; what no ID covers is none. */
export const membersOf = (open: OpenFrame, layer: CastLayer, slots: readonly number[]): NamedId[] =>
  slots.flatMap((slot) => {
    const id = layer.index.ids[slot]!;
    return id === NO_ID ? [] : [{ id, name: nameOf(open, layer.name, id) }];
  });
