import { castOf } from '../cast/cast.ts';
import { srgbToLinear } from '../colour/srgb.ts';
import type { Crew } from '../crew/work.ts';
import type { Finding } from '../findings/finding.ts';
import { asFloats } from '../formats/exr/samples.ts';
import type { ExrAttribute, ExrChannel, ExrHeader } from '../formats/exr/types.ts';
import { isCryptomatteChannel, withoutCryptomatte } from '../idlayers/cryptomatte.ts';
import { decodeNumberedLayer } from '../idlayers/numbered.ts';
import { asCryptomatte } from '../roles/write/cryptomatte.ts';
import { numbered } from '../roles/write/rewrite.ts';
import type { RoleUse } from '../roles/role.ts';
import { shortNames } from './file-parts.ts';
import type { Frame } from './frame.ts';
import { stemOf, type Interpretation } from './interpretation.ts';
import { layerOfChannel } from './layer-kinds.ts';
import { openFrame } from './open-frame.ts';

/** A file of a frame that is gathered. */
export interface GatherFile {
  name: string;
  bytes: Uint8Array;
}

/** What a file of the frame has become. */
export interface Gathered {
  file: string;
  /** `picture`, `cryptomatte`, a role, `outlined` for the twin of flat colours, or `pass`. */
  role: string;
  /** Name of its layer in the gathered file. */
  layer: string;
  why: string;
}

export interface GatheredFrame {
  header: ExrHeader;
  channels: ExrChannel[];
  files: Gathered[];
  findings: readonly Finding[];
}

const WHY = { name: 'by its name', hand: 'as it was said', file: 'as the file says' } as const;

/** Opens the files with roles that are given by file name; those of one that would be the picture go with its layer. */
async function openWithRoles(
  files: readonly GatherFile[],
  roles: Readonly<Record<string, RoleUse>>,
  crew?: Crew,
): Promise<Frame> {
  const pictures = files.filter((f) => !f.name.endsWith('.json'));
  const short = shortNames(pictures.map((f) => f.name));
  const layerOf = new Map(pictures.map((f, i) => [f.name, short[i]!]));
  const list = files.map(({ name }) => ({
    role: name.endsWith('.json') ? 'sidecar' : 'picture',
    name,
    frame: null,
  }));
  const bytesOf = new Map(files.map((f) => [f.name, f.bytes]));
  /** A use by layer: files that it names become layers. */
  const meant = (use: RoleUse): RoleUse =>
    use.role === 'flat-colour' && use.outlined !== undefined
      ? { ...use, outlined: layerOf.get(use.outlined) ?? use.outlined }
      : use;
  const open = (said: NonNullable<Interpretation['roles']>) =>
    openFrame(list, undefined, ({ name }) => Promise.resolve(bytesOf.get(name)!), {
      crew,
      interpretation: { roles: said },
    });
  const said = Object.fromEntries(
    Object.entries(roles).flatMap(([file, use]) =>
      layerOf.has(file) ? [[layerOf.get(file)!, meant(use)]] : [],
    ),
  );
  const first = await open(said);
  // A file alone, and one that all others are called after, has no layer of its own.
  const more = first.parts.flatMap((part): [string, RoleUse][] => {
    const use = roles[part.name];
    const [channel] = [...part.ownName.keys()];
    const layer = channel && layerOfChannel(channel);
    return use && layer !== undefined && said[layer] === undefined ? [[layer, meant(use)]] : [];
  });
  return more.length ? open({ ...said, ...Object.fromEntries(more) }) : first;
}

/**
 * Puts the files of a frame together so that every ID pass is a cryptomatte: passes without names of their own are called
 * after their file and give way to it, everything else stays as it is.
 * @param roles what files are that no name tells, by file name; `outlined` is a file name, too
 */
export async function gatherFrame(
  files: readonly GatherFile[],
  roles: Readonly<Record<string, RoleUse>> = {},
  crew?: Crew,
): Promise<GatheredFrame> {
  const frame = await openWithRoles(files, roles, crew);
  const gone = new Set<string>();
  const written: ExrChannel[] = [];
  const attributes: ExrAttribute[] = [];
  const report: Gathered[] = [];
  const fileOf = (channel: string) => frame.partOfChannels([channel])?.name;
  const several = new Map<string, number>();
  for (const { layer } of frame.roles) {
    const file = fileOf(frame.header.channels.find((c) => layerOfChannel(c.name) === layer)!.name);
    if (file !== undefined) several.set(file, (several.get(file) ?? 0) + 1);
  }
  for (const role of frame.roles) {
    const own = frame.header.channels.filter((c) => layerOfChannel(c.name) === role.layer && !c.derived);
    const file = fileOf(own[0]!.name);
    // A file of several passes tells them apart by their layers.
    const name = file === undefined || several.get(file)! > 1 ? role.layer : stemOf(file);
    for (const c of own) gone.add(c.name);
    const layer =
      frame.layers.find((l) => l.name === role.idLayer) ??
      layerOfMembers(
        frame,
        own.map((c) => c.name),
      );
    if (!layer?.sound) continue;
    const of = {
      ...layer,
      ...membersOnly(
        layer,
        own.map((c) => c.name),
      ),
    };
    const index = await frame.index(of);
    const cast = castOf(of, index);
    const members = numbered(cast.members.filter((m) => m.id !== 0));
    const { channels, attributes: more } = asCryptomatte.write(name, index, members);
    written.push(...channels);
    attributes.push(...more);
    for (const c of layer.channels) gone.add(c);
    report.push({ file: file ?? role.layer, role: role.use.role, layer: name, why: WHY[role.by] });
    const twin = role.use.role === 'flat-colour' ? role.use.outlined : undefined;
    if (twin !== undefined) {
      const lines = frame.header.channels.filter((c) => layerOfChannel(c.name) === twin);
      for (const c of lines) gone.add(c.name);
      const twinFile = lines[0] && fileOf(lines[0].name);
      if (twinFile !== undefined)
        report.push({ file: twinFile, role: 'outlined', layer: name, why: `it helps ${role.layer}` });
    }
  }
  const kept = await frame.channels(
    (n) => !gone.has(n) && !frame.header.channels.find((c) => c.name === n)?.derived,
  );
  const told = new Set(report.map((r) => r.file));
  for (const part of frame.parts) {
    if (told.has(part.name)) continue;
    told.add(part.name);
    const own = [...part.ownName.keys()];
    const crypto = frame.layers.find(
      (l) => l.kind === 'cryptomatte' && own.some((c) => isCryptomatteChannel(l.info, c)),
    );
    const picture = frame.beauty !== undefined && own.includes(frame.beauty.r);
    report.push({
      file: part.name,
      role: picture ? 'picture' : crypto ? 'cryptomatte' : 'pass',
      layer: picture ? 'picture' : (crypto?.name ?? layerOfChannel(own[0]!)),
      why: picture ? frame.choice.why : crypto ? WHY.file : 'its channels are kept as they are',
    });
  }
  const left = frame.roles.reduce<readonly ExrAttribute[]>(
    (list, { idLayer }) => withoutCryptomatte(list, idLayer),
    frame.header.attributes.filter((a) => !a.name.startsWith('zestyCrow/')),
  );
  const again = new Set(attributes.map((a) => a.name));
  // The file is one of light: a picture that was made for a screen is brought to it.
  const { beauty } = frame;
  const ofPicture = new Set([beauty?.r, beauty?.g, beauty?.b]);
  const light = kept.map((c): ExrChannel => {
    if (c.encoding !== 'display' || !ofPicture.has(c.name)) return c;
    const { encoding: _, ...rest } = c;
    return { ...rest, type: 'float', data: asFloats(c).map(srgbToLinear) };
  });
  return {
    header: { ...frame.header, attributes: [...left.filter((a) => !again.has(a.name)), ...attributes] },
    channels: [...light, ...written].sort((a, b) => (a.name < b.name ? -1 : 1)),
    files: report.sort((a, b) => (a.file < b.file ? -1 : 1)),
    findings: frame.findings,
  };
}

/** The ID layer some of whose members are among channels. */
const layerOfMembers = (frame: Frame, own: readonly string[]) =>
  frame.layers.find((l) => l.members?.some((m) => own.includes(m.channel)));

/** A layer with those of its members only that are among channels; as it is where its members are no channels. */
function membersOnly(
  layer: Frame['layers'][number],
  own: readonly string[],
): Partial<Frame['layers'][number]> {
  if (!layer.members) return {};
  const members = layer.members.filter((m) => own.includes(m.channel));
  return {
    members,
    channels: members.map((m) => m.channel),
    decode: (c, size) => decodeNumberedLayer({ members }, c, size),
  };
}
