import type { Finding } from '../findings/finding.ts';
import type { ChannelInfo, ExrHeader } from '../formats/exr/types.ts';
import { isCryptomatteChannel, sizeOf } from '../idlayers/cryptomatte.ts';
import { describeIdLayers, type DescribedLayer } from '../idlayers/load.ts';
import type { Area } from '../planes/area.ts';
import { choosePicture, findBeauty, type BeautyChannels, type PictureChoice } from './beauty.ts';
import { masksOfChannels, SUM_LAYER, sumOfLayers, withDerived, type Derived } from './derived.ts';
import { layersOfRoles, rolesOf, type GivenRole } from './given-roles.ts';
import type { Interpretation } from './interpretation.ts';
import { layerOfChannel } from './layer-kinds.ts';
import { coloursOfLumaChroma } from './luma-chroma.ts';
import type { MergedHeader } from './merge.ts';
import { findPasses, type PassInfo } from './passes.ts';
import { namedChannels, roleRows, type MembersOfRoles, type RoleRow } from './role-channels.ts';

/** What a frame is, as its headers and manifests tell and the artist knows better; no pixel is needed for it. */
export interface FrameFacts {
  readonly header: ExrHeader;
  readonly width: number;
  readonly height: number;
  /** Where the display window lies in it, if there is overscan. */
  readonly display: Area | undefined;
  /** Channels that are the picture; undefined for files of data passes only. */
  readonly beauty: BeautyChannels | undefined;
  readonly layers: readonly DescribedLayer[];
  /** Which layers the picture is made of, and why. */
  readonly choice: PictureChoice;
  /** ID passes that carry no names of their own. */
  readonly roles: readonly GivenRole[];
  /** Other passes, which corrections may read. */
  readonly passes: readonly PassInfo[];
  /** What the headers and manifests tell. */
  readonly findings: readonly Finding[];
  /** Every layer that could be one, with what it is. */
  readonly roleRows: readonly RoleRow[];
  /** Layers that are ID passes, and so not the picture. */
  readonly taken: ReadonlySet<string>;
  /** Channels that no file holds, each computed from the files' and those before. */
  readonly derived: readonly Derived[];
}

/** What is known of a frame beside its headers. */
export interface Known {
  sidecars: ReadonlyMap<string, string>;
  /** What was found before it was put together. */
  findings?: readonly Finding[];
  interpretation?: Interpretation;
  /** Which layers are the picture, where that is known already. */
  choice?: PictureChoice;
  /** ID layers that are computed from pixels, where those have been looked at already. */
  computed?: readonly Derived[];
  members?: MembersOfRoles;
}

/** Finds out what a frame is from the joined header of its files. */
export function factsOfFrame(
  { header }: Pick<MergedHeader, 'header'>,
  {
    sidecars,
    findings = [],
    interpretation = {},
    choice: chosen,
    computed = [],
    members: found = new Map(),
  }: Known,
): FrameFacts {
  const stored = encoded(header, interpretation.encodings ?? {});
  const colours = coloursOfLumaChroma(stored);
  const whole = withDerived(stored, colours);
  const roles = rolesOf(whole, interpretation.roles);
  const taken = layersOfRoles(roles);
  const choice = chosen ?? choosePicture(whole, interpretation.picture, taken);
  const sum = choice.layers.length > 1 ? [sumOfLayers(whole, choice.layers)] : [];
  const members = [...namedChannels(whole, roles), ...computed];
  const masks = masksOfChannels(withDerived(whole, [...sum, ...members]), interpretation.masks ?? []);
  // In this order: each may be computed from those before.
  const derived = [...colours, ...sum, ...members, ...masks];
  const all = withDerived(stored, derived);
  const beauty = findBeauty(all, sum.length ? [SUM_LAYER] : choice.layers, taken);
  const described = describeIdLayers(all, sidecars);
  const layers = described.layers.map((l) => withSources(l, roles, stored));
  const cryptos = layers.filter((l) => l.kind === 'cryptomatte');
  const apart = (c: string) => cryptos.some((l) => isCryptomatteChannel(l.info, c));
  const { width, height, display } = sizeOf(all);
  return {
    header: all,
    width,
    height,
    display,
    beauty,
    layers,
    choice,
    roles,
    passes: findPasses(all, beauty, layers),
    findings: [...findings, ...described.findings],
    roleRows: roleRows(stored, roles, found, apart),
    taken,
    derived,
  };
}

/** An ID layer with all channels of the passes that it is made of. */
function withSources(
  layer: DescribedLayer,
  roles: readonly GivenRole[],
  { channels }: ExrHeader,
): DescribedLayer {
  const own = new Set((layer.members ?? []).map((m) => layerOfChannel(m.channel)));
  const passes = roles.filter((r) => own.has(r.layer) || r.idLayer === layer.name);
  if (passes.length === 0) return layer;
  const wanted = layersOfRoles(passes);
  return { ...layer, sources: channels.map((c) => c.name).filter((c) => wanted.has(layerOfChannel(c))) };
}

/** A header whose channels mean what the artist says. */
const encoded = (header: ExrHeader, encodings: NonNullable<Interpretation['encodings']>): ExrHeader => ({
  ...header,
  channels: header.channels.map((c): ChannelInfo => {
    const said = encodings[layerOfChannel(c.name)];
    if (said === undefined || c.name.endsWith('A')) return c;
    const { encoding: _, ...rest } = c;
    return said === 'display' ? { ...rest, encoding: 'display' } : rest;
  }),
});
