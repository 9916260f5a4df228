import { isNothing, type CastLayer, type Family } from '../cast/cast.ts';
import { rgbToOklab, type Triple } from '../colour/oklab.ts';
import { through } from '../colour/matrix.ts';
import { meansUnder } from '../idindex/mean-under.ts';
import { middlesOf } from '../idindex/middles.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';

/** What a member is told again by, in another version. */
export interface MemberFacts {
  name: string;
  id: number;
  /** Share of the frame that it covers. */
  share: number;
  /** Its middle, in heights of the frame from its upper left corner. */
  x: number;
  y: number;
  /** Its mean colour in Oklab; undefined where no picture says one. */
  colour: Triple | undefined;
}

/** What is known of an ID layer of a version: small, whatever the size of its frame. */
export interface LayerFacts {
  layer: string;
  family: Family;
  members: MemberFacts[];
  /** Names of its list that this frame does not show. */
  unseen: readonly string[];
}

/**
 * Gathers what members of a layer are told again by.
 * @param planes the picture, scene-linear; without one nothing is known of colours
 */
export function factsOf({ name, family, index, members, unseen }: CastLayer, planes?: RgbPlanes): LayerFacts {
  const { width, height } = index;
  const middles = middlesOf(index);
  const means = planes && [planes.r, planes.g, planes.b].map((plane) => meansUnder(index, plane));
  const colourOf = (slot: number): Triple | undefined => {
    const own = means?.map((m) => m[slot]!) as [number, number, number] | undefined;
    if (!own?.every(Number.isFinite)) return undefined;
    const [r, g, b] = planes?.toScreen ? through(planes.toScreen, own) : own;
    const out: Triple = [0, 0, 0];
    rgbToOklab(r, g, b, out);
    return out;
  };
  return {
    layer: name,
    family,
    unseen,
    members: members
      .filter((m) => !isNothing(m))
      .map((m): MemberFacts => {
        const slot = index.slotOf.get(m.id)!;
        return {
          name: m.name,
          id: m.id,
          share: m.coverage / (width * height),
          x: middles.x[slot]! / height,
          y: middles.y[slot]! / height,
          colour: colourOf(slot),
        };
      }),
  };
}
