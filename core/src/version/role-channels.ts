import type { ChannelInfo, ExrHeader } from '../formats/exr/types.ts';
import { cryptomatteAttributes } from '../idlayers/cryptomatte.ts';
import { makeIdKind } from '../idlayers/load.ts';
import { makeNumberedLayer } from '../idlayers/numbered.ts';
import { roleKind } from '../roles/registry.ts';
import { COMPUTED_RANKS, type ComputedIds, type RoleSource } from '../roles/role.ts';
import { floatChannel, type Derived } from './derived.ts';
import type { GivenRole } from './given-roles.ts';
import { layerOfChannel } from './layer-kinds.ts';

const channelsOf = (header: Pick<ExrHeader, 'channels'>, layer: string): ChannelInfo[] =>
  header.channels.filter((c) => layerOfChannel(c.name) === layer);

/** Members whose coverages are channels as they are: nothing is computed, their names are added to the header. */
export const namedChannels = (header: ExrHeader, roles: readonly GivenRole[]): Derived[] =>
  roles.flatMap(({ layer, use }): Derived[] => {
    const members = roleKind(use)?.members?.({ name: layer, channels: channelsOf(header, layer) }, use);
    return members
      ? [{ channels: [], from: [], attributes: [makeNumberedLayer(members)], make: () => undefined }]
      : [];
  });

/** A member of a pass without names of its own, and what its name is given to. */
export interface RoleMember {
  key: string;
  name: string;
}
/** By layer. */
export type MembersOfRoles = ReadonlyMap<string, readonly RoleMember[]>;

/** A layer of channels as the artist is asked what it is. */
export interface RoleRow {
  layer: string;
  channels: string[];
  /** What it is, and who says so; absent for what is no ID pass. */
  use?: GivenRole['use'];
  by?: GivenRole['by'];
  /** The ID layer that its members are in. */
  idLayer?: string;
  /** Members that were found in its pixels. */
  members: readonly RoleMember[];
}

/** Every layer of a frame that could be an ID pass without names of its own, those that are one first. */
export function roleRows(
  header: Pick<ExrHeader, 'channels'>,
  roles: readonly GivenRole[],
  members: MembersOfRoles,
  apart: (channel: string) => boolean,
): RoleRow[] {
  const layers = new Map<string, string[]>();
  for (const c of header.channels) {
    if (c.derived || c.xSampling !== 1 || c.ySampling !== 1 || apart(c.name)) continue;
    const layer = layerOfChannel(c.name);
    layers.set(layer, [...(layers.get(layer) ?? []), c.name]);
  }
  const rows = [...layers].map(([layer, channels]): RoleRow => {
    const role = roles.find((r) => r.layer === layer);
    const kind = role && roleKind(role.use);
    const idLayer = kind?.members
      ? kind.members({ name: layer, channels: [] }, role!.use).layer
      : role?.idLayer;
    return {
      layer,
      channels,
      ...(role ? { use: role.use, by: role.by, idLayer: idLayer! } : {}),
      members: members.get(layer) ?? [],
    };
  });
  return rows.sort((a, b) => Number(b.use !== undefined) - Number(a.use !== undefined));
}

/** An ID layer that is computed from pixels, as the channels of a cryptomatte. */
function computedLayer({ idLayer, use }: GivenRole, ids: ComputedIds): Derived {
  const names = Array.from({ length: COMPUTED_RANKS }, (_, rank) => {
    const layer = `${idLayer}${String(rank >> 1).padStart(2, '0')}`;
    return rank % 2 ? [`${layer}.B`, `${layer}.A`] : [`${layer}.R`, `${layer}.G`];
  }).flat();
  return {
    channels: names.map(floatChannel),
    from: ids.from,
    attributes: [
      ...cryptomatteAttributes(
        idLayer,
        ids.names.map(([name, id]) => [name, id] as const),
      ),
      makeIdKind(idLayer, use.role),
    ],
    make: (from, out, size, crew) =>
      ids.make(
        from,
        {
          ids: out.flatMap((plane, i) =>
            i % 2 ? [] : new Uint32Array(plane.buffer, plane.byteOffset, plane.length),
          ),
          coverage: out.filter((_, i) => i % 2 === 1),
        },
        size,
        crew,
      ),
  };
}

/** Looks into the pixels of the passes that have to be, and says which ID layers they become. */
export async function surveyRoles(
  header: ExrHeader,
  roles: readonly GivenRole[],
  source: RoleSource,
): Promise<{ computed: Derived[]; findings: ComputedIds['findings']; members: MembersOfRoles }> {
  const computed: Derived[] = [];
  const findings: ComputedIds['findings'] = [];
  const members = new Map<string, RoleMember[]>();
  for (const role of roles) {
    const { layer, use } = role;
    const ids = await roleKind(use)?.survey?.(
      { name: layer, channels: channelsOf(header, layer) },
      use,
      source,
    );
    if (!ids) continue;
    findings.push(...ids.findings);
    members.set(
      layer,
      ids.names.map(([name, , key]) => ({ key, name })),
    );
    if (ids.names.length) computed.push(computedLayer(role, ids));
  }
  return { computed, findings, members };
}
