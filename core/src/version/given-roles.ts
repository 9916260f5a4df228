import { stringAttribute } from '../formats/exr/attributes.ts';
import type { ChannelInfo, ExrHeader } from '../formats/exr/types.ts';
import { findCryptomattes, isCryptomatteChannel } from '../idlayers/cryptomatte.ts';
import { findNumberedLayers } from '../idlayers/numbered.ts';
import { ROLES } from '../roles/registry.ts';
import type { FlatColourUse, NumberPassUse, RoleLayer, RoleUse } from '../roles/role.ts';
import { layerOfChannel } from './layer-kinds.ts';

/** A layer of channels that is an ID pass without names of its own. */
export interface GivenRole {
  /** Layer of its channels. */
  layer: string;
  /** ID layer that a pass of its own becomes. */
  idLayer: string;
  use: Exclude<RoleUse, { role: 'pass' }>;
  /** Who says so. */
  by: 'name' | 'hand' | 'file';
}

/** The role of a layer: as the artist says, or as its name does. Undefined if it has none. */
export function givenRole(
  layer: RoleLayer,
  said: Readonly<Record<string, RoleUse>> = {},
): Pick<GivenRole, 'use' | 'by'> | undefined {
  const own = said[layer.name];
  if (own) return own.role === 'pass' ? undefined : { use: own, by: 'hand' };
  for (const kind of ROLES) {
    const use = kind.proposes(layer);
    if (use && use.role !== 'pass') return { use, by: 'name' };
  }
  return undefined;
}

const COLOURS = 'zestyCrow/colours/';

/** Passes that our own renderer has written: it keeps numbers and colours with their names. */
function writtenRoles(header: Pick<ExrHeader, 'attributes'>): GivenRole[] {
  const numbers = findNumberedLayers(header.attributes).flatMap((l): GivenRole[] => {
    const [first] = l.members;
    if (l.kind !== 'number-pass' || !first) return [];
    const names = Object.fromEntries(
      l.members.flatMap((m) => (m.value === undefined ? [] : [[m.value, m.member]])),
    );
    const use: NumberPassUse = { role: 'number-pass', channel: first.channel, names };
    return [{ layer: layerOfChannel(first.channel), idLayer: l.layer, use, by: 'file' }];
  });
  const colours = header.attributes.flatMap((a): GivenRole[] => {
    if (!a.name.startsWith(COLOURS)) return [];
    const layer = a.name.slice(COLOURS.length);
    try {
      const list = JSON.parse(stringAttribute([a], a.name)!) as Record<string, number[]>;
      const hex = (c: number[]) => `#${c.map((v) => v.toString(16).padStart(2, '0')).join('')}`;
      const names = Object.fromEntries(Object.entries(list).map(([name, c]) => [hex(c), name]));
      const use: FlatColourUse = { role: 'flat-colour', names };
      return [{ layer, idLayer: layer, use, by: 'file' }];
    } catch {
      // Somebody else's attribute.
      return [];
    }
  });
  return [...numbers, ...colours];
}

/** Words by which the picture with lines between things is known. */
const OUTLINED = /(outlined?|lines?)$/i;

/**
 * What every layer of a frame is that carries no names of its own: as the artist says, as the file does, or as its name
 * does. A flat-colour pass with a twin that is called the same and outlined gets it.
 */
export function rolesOf(
  header: Pick<ExrHeader, 'channels' | 'attributes'>,
  said: Readonly<Record<string, RoleUse>> = {},
): GivenRole[] {
  const cryptos = findCryptomattes(header);
  const numbered = new Set(
    findNumberedLayers(header.attributes).flatMap((l) => l.members.map((m) => m.channel)),
  );
  const layers = new Map<string, ChannelInfo[]>();
  for (const c of header.channels) {
    if (c.xSampling !== 1 || c.ySampling !== 1 || numbered.has(c.name)) continue;
    if (cryptos.some((info) => isCryptomatteChannel(info, c.name))) continue;
    const layer = layerOfChannel(c.name);
    layers.set(layer, [...(layers.get(layer) ?? []), c]);
  }
  const written = writtenRoles(header).filter(({ layer }) => said[layer] === undefined);
  const taken = new Set(written.map((w) => w.layer));
  const found = [...written];
  for (const [name, channels] of layers) {
    const given = taken.has(name) ? undefined : givenRole({ name, channels }, said);
    if (given) found.push({ layer: name, idLayer: name, ...given });
  }
  const twinOf = (layer: string) =>
    found.find(
      (r) =>
        r.layer !== layer &&
        r.layer.startsWith(layer) &&
        OUTLINED.test(r.layer) &&
        r.use.role === 'flat-colour',
    )?.layer;
  const withTwins = found.map((r): GivenRole => {
    if (r.use.role !== 'flat-colour' || r.use.outlined !== undefined || r.by === 'hand') return r;
    const outlined = OUTLINED.test(r.layer) ? undefined : twinOf(r.layer);
    return outlined === undefined ? r : { ...r, use: { ...r.use, outlined } };
  });
  // A twin only helps the other.
  const twins = new Set(
    withTwins.flatMap((r) => (r.use.role === 'flat-colour' ? (r.use.outlined ?? []) : [])),
  );
  return withTwins.filter((r) => !twins.has(r.layer));
}

/** Layers that are ID passes, or help one: none of them is the picture. */
export const layersOfRoles = (roles: readonly GivenRole[]): Set<string> =>
  new Set(
    roles.flatMap(({ layer, use }) =>
      use.role === 'flat-colour' && use.outlined !== undefined ? [layer, use.outlined] : [layer],
    ),
  );
