import { notifyError } from '../../../server/notify.ts';
import { layerLabel } from '../../layer-label.ts';

/** Tells that nothing can be taken from a layer. */
export const unreadable = (layer: string): void =>
  notifyError(new Error(`The click was dropped: the IDs of ${layerLabel(layer)} cannot be read.`));
