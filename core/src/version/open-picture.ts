import { castOf, type CastLayer } from '../cast/cast.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Size } from '../planes/size.ts';
import type { ExrImage } from '../formats/exr/types.ts';
import { buildIdIndex } from '../idindex/id-index.ts';
import { loadIdLayers, type IdLayer } from '../idlayers/load.ts';
import { sizeOf } from '../idlayers/cryptomatte.ts';
import type { Finding } from '../findings/finding.ts';
import { findPasses, type PassInfo } from './passes.ts';
import { beautyPlanes, findBeauty, type BeautyChannels } from './beauty.ts';

/** A decoded file with all that picking and correcting need. */
export interface OpenPicture extends Size {
  image: ExrImage;
  beauty?: BeautyChannels;
  planes: RgbPlanes;
  layers: IdLayer[];
  cast: CastLayer[];
  /** Other passes, which corrections may read. */
  passes: readonly PassInfo[];
  findings: Finding[];
}

/** Builds picture, ID layers and cast from a decoded file, in this thread. */
export function openPicture(image: ExrImage, sidecars?: ReadonlyMap<string, string>): OpenPicture {
  const { layers, findings } = loadIdLayers(image, sidecars);
  const beauty = findBeauty(image.header);
  const open: OpenPicture = {
    image,
    ...sizeOf(image.header),
    planes: beautyPlanes(image, beauty),
    layers,
    cast: layers.flatMap((l) => (l.planes ? [castOf(l, buildIdIndex(l.planes))] : [])),
    passes: findPasses(image.header, beauty, layers),
    findings,
  };
  if (beauty) open.beauty = beauty;
  return open;
}
