import { isNothing, type CastLayer } from '../cast/cast.ts';
import type { Finding } from '../findings/finding.ts';

/** A member as it is kept of every frame: enough to compare frames without opening them. */
export interface SeenMember {
  id: number;
  name: string;
  coverage: number;
  pixels: number;
}

/** Members of a frame's ID layers, by the layer's name. */
export interface SeenFrame {
  frame: number;
  layers: ReadonlyMap<string, readonly SeenMember[]>;
}

/** A version as it is inspected over its frames, and against the one before. */
export interface InspectedVersion {
  /** Numbers of its frames, rising. */
  frames: readonly number[];
  /** Those of which the members are known, in order. */
  seen: readonly SeenFrame[];
  /** The version before, in one of its frames. */
  before?: { number: number; frame: SeenFrame };
}

/** One thing that is looked at over a version's frames: one file a check, and one line in `version-registry.ts`. */
export interface VersionCheck {
  code: string;
  title: string;
  /** Whether it compares frames of a version, or versions. */
  scope: 'version' | 'versions';
  run(version: InspectedVersion): Finding[];
}

/** What is kept of a layer's members. */
export const seenMembers = (layer: Pick<CastLayer, 'members'>): SeenMember[] =>
  layer.members
    .filter((m) => !isNothing(m))
    .map(({ id, name, coverage, pixels }) => ({ id, name, coverage, pixels }));

/** The first of some names, for people. */
export const examples = (names: readonly string[]): string =>
  `${names
    .slice(0, 3)
    .map((n) => `“${n}”`)
    .join(', ')}${names.length > 3 ? ', …' : ''}`;
