import { layersNamed, noMask } from '@zesty-crow/core';
import type { ViewState } from './messages.ts';
import type { OpenFrame } from './open-frame.ts';

/** Changes whose ID layers are all there: half of a mask would be another mask. */
export const readyChanges = ({ coming }: OpenFrame, { changes }: ViewState): ViewState['changes'] =>
  changes.filter((c) => layersNamed(c).every((name) => !coming.has(name)));

/** The open heading as if it stood over a change that does nothing: then its mask is there, whatever is under it. */
export function headingAlone({ coming }: OpenFrame, { openHeading: over }: ViewState): ViewState['changes'] {
  if (!over || !layersNamed(over).every((name) => !coming.has(name))) return [];
  const nothing = { words: '', on: false, done: false, plainEdges: true, corrections: [] };
  return [{ ...noMask(), ...nothing, id: `under ${over.id}`, over }];
}
