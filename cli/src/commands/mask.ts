import {
  asFloats,
  listedChanges,
  maskOfChange,
  maskOf,
  maskOfPlanes,
  matchMembers,
  maskToExr,
  maskToPng,
  type MemberPick,
  type OpenPicture,
} from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { readChanges, variantId } from '../changes-file.ts';
import { CommandError } from '../fail.ts';
import {
  checkChannels,
  openVersion,
  targetKind,
  writeBytes,
  type OpenOptions,
  frameNumber,
} from '../files.ts';

interface MaskOptions extends OpenOptions {
  layer?: string;
  with?: string[];
  without?: string[];
  channels?: string[];
  changes?: string;
  change?: string;
  variant?: string;
  from?: string;
  to?: string;
  out: string;
}

/** A number of an option. */
function numberOf(name: string, text: string | undefined, fallback: number): number {
  const value = Number(text ?? fallback);
  if (!Number.isFinite(value)) throw new CommandError(`--${name} is "${text}"; it must be a number.`);
  return value;
}

/** Coverage of channels: their sum between two values. */
function maskOfChannels(open: OpenPicture, { channels = [], from, to }: MaskOptions): Float32Array {
  const all = open.image.channels;
  checkChannels(
    channels,
    all.map((c) => c.name),
  );
  const planes = channels.map((name) => asFloats(all.find((c) => c.name === name)!));
  const out = new Float32Array(open.width * open.height);
  const recipe = {
    channels: channels.map((channel) => ({ channel, times: 1 })),
    from: numberOf('from', from, 0),
    to: numberOf('to', to, 1),
  };
  maskOfPlanes(recipe, planes, out);
  return out;
}

/** Coverage of a change of a list, by its id or its words, as its corrections see it. */
function maskOfListed(
  open: OpenPicture,
  { changes: path, change: named, variant }: MaskOptions,
  frame: number | undefined,
): Float32Array {
  const list = readChanges(path!);
  const changes = listedChanges(list, { variant: variantId(list, variant), frame });
  const found = changes.filter((c) => c.id === named || c.words === named);
  if (found.length === 1) return maskOfChange(open, found[0]!).flat();
  const known = changes.map((c) => `"${c.words || c.id}"`).join(', ');
  const what = found.length > 1 ? 'Several changes are called' : 'There is no change';
  throw new CommandError(
    `${what} "${named ?? ''}" in ${path!}. Name one with --change by its words or its id: ${known}.`,
  );
}

/** `mask FILES…`: coverage of the members that patterns name, of channels, or of a change, as one channel `Y`. */
export async function maskCommand(files: string[], options: MaskOptions): Promise<void> {
  const kind = targetKind(options.out, ['exr', 'png'] as const);
  const { layer, with: members, channels, changes } = options;
  const ways = [layer ?? members, channels, changes].filter((w) => w !== undefined);
  if (ways.length !== 1 || (!channels && !changes && (!layer || !members)))
    throw new CommandError(
      'Name --layer and --with for members, --channels for a mask of channels, or --changes and --change for that of a change.',
    );
  const open = await openVersion(files, options);
  const mask = changes
    ? maskOfListed(open, options, frameNumber(files, options))
    : channels
      ? maskOfChannels(open, options)
      : maskOfMembers(open, files, options);
  const { header } = open.image;
  writeBytes(
    options.out,
    kind === 'png' ? maskToPng(mask, header) : maskToExr(mask, header, { zlib: nodeZlib }),
  );
}

/** Coverage of the members that patterns name. */
function maskOfMembers(open: OpenPicture, files: readonly string[], options: MaskOptions): Float32Array {
  const layer = open.cast.find((l) => l.name === options.layer);
  if (!layer) {
    const fault = open.layers.find((l) => l.name === options.layer)?.info.faults[0];
    if (fault) throw new CommandError(fault.message);
    const known = open.layers.map((l) => l.name);
    throw new CommandError(
      `There is no ID layer "${options.layer}" in ${files.join(', ')}. ${known.length ? `It has ${known.join(', ')}.` : 'It has none.'}`,
    );
  }
  const picks = (mode: MemberPick['mode'], patterns: readonly string[] = []): MemberPick[] =>
    patterns.map((member) => ({ mode, layer: layer.name, member }));
  const who = [...picks('with', options.with), ...picks('without', options.without)];
  for (const { member } of who)
    if (matchMembers(member, layer.members).length === 0)
      throw new CommandError(`No member of ${layer.name} matches "${member}".`);
  return maskOf(open, { who }).flat();
}
