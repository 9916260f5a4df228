import { maskOf, matchMembers, maskToExr, maskToPng, type MemberPick } from '@zesty-crow/core';
import { nodeZlib } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { openFile, targetKind, writeBytes } from '../files.ts';

/** `mask FILE`: coverage of the members that patterns name, as one channel `Y`. */
export async function maskCommand(
  file: string,
  options: { layer: string; with: string[]; without?: string[]; out: string },
): Promise<void> {
  const kind = targetKind(options.out, ['exr', 'png'] as const);
  const open = await openFile(file);
  const layer = open.cast.find((l) => l.name === options.layer);
  if (!layer) {
    const fault = open.layers.find((l) => l.name === options.layer)?.info.faults[0];
    if (fault) throw new CommandError(fault.message);
    const known = open.layers.map((l) => l.name);
    throw new CommandError(
      `There is no ID layer "${options.layer}" in ${file}. ${known.length ? `It has ${known.join(', ')}.` : 'It has none.'}`,
    );
  }
  const picks = (mode: MemberPick['mode'], patterns: readonly string[] = []): MemberPick[] =>
    patterns.map((member) => ({ mode, layer: layer.name, member }));
  const who = [...picks('with', options.with), ...picks('without', options.without)];
  for (const { member } of who)
    if (matchMembers(member, layer.members).length === 0)
      throw new CommandError(`No member of ${layer.name} matches "${member}".`);
  const mask = maskOf(open, { who }).flat();
  const { header } = open.image;
  writeBytes(
    options.out,
    kind === 'png' ? maskToPng(mask, header) : maskToExr(mask, header, { zlib: nodeZlib }),
  );
}
