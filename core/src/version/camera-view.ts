import { floatAttribute, makeFloat, makeString, stringAttribute } from '../formats/exr/attributes.ts';
import type { ExrAttribute } from '../formats/exr/types.ts';
import type { CameraView } from '../planes/camera-view.ts';

/** An attribute of our own: the standard has none that says what depth is measured along. */
const ALONG = 'zestyCrow/depthAlong';
/** Width of the screen window at a distance of 1 (OpenEXR, standard attributes); what is not told is written as 1. */
const SCREEN_WIDTH = 'screenWindowWidth';
const UNTOLD = 1;

/** What a file's attributes tell about its camera; undefined if nothing. */
export function cameraViewOf(attributes: readonly ExrAttribute[]): CameraView | undefined {
  const width = floatAttribute(attributes, SCREEN_WIDTH);
  const along = stringAttribute(attributes, ALONG);
  const view: CameraView = {
    ...(width !== undefined && width > 0 && width !== UNTOLD ? { width } : {}),
    ...(along === 'ray' || along === 'axis' ? { along } : {}),
  };
  return Object.keys(view).length ? view : undefined;
}

/** Attributes that tell it. */
export const cameraViewAttributes = ({ width, along }: CameraView): ExrAttribute[] => [
  ...(width === undefined ? [] : [makeFloat(SCREEN_WIDTH, width)]),
  ...(along === undefined ? [] : [makeString(ALONG, along)]),
];
