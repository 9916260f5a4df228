import { writeExr } from '../../formats/exr/write.ts';
import type { Finding } from '../../findings/finding.ts';
import { encodeCryptomatte } from '../../idlayers/cryptomatte.ts';
import type { ChannelInfo, ExrChannel } from '../../formats/exr/types.ts';
import { layerKindOf, layerOfChannel } from '../../version/layer-kinds.ts';
import { slimRanks } from '../../roles/write/slim.ts';
import type { Check, Inspected } from '../check.ts';

/** What it must save before it is worth a word: a share, and bytes. */
const SHARE = 0.3;
const BYTES = 4096;
/** Rows that are packed to find out how large a layer gets: bands of a block's lines, as many as fit in this many pixels. */
const SAMPLE = 100_000;
const BAND = 16;

/** Bytes of channels packed as ZIP, measured on bands of rows that are spread over the picture. */
export function packedBytes(
  channels: readonly Omit<ExrChannel, 'data'>[],
  planes: readonly Float32Array[],
  width: number,
): number {
  const height = planes[0]!.length / width;
  const bands = Math.ceil(height / BAND);
  const step = Math.max(1, Math.ceil((width * height) / SAMPLE));
  const taken = Array.from({ length: Math.ceil(bands / step) }, (_, i) => i * step);
  const rows = taken.reduce((sum, b) => sum + Math.min(BAND, height - b * BAND), 0);
  const box = { xMin: 0, yMin: 0, xMax: width - 1, yMax: rows - 1 };
  const cut = channels
    .map((c, i): ExrChannel => {
      const data = new Float32Array(width * rows);
      let at = 0;
      for (const band of taken) {
        const part = planes[i]!.subarray(band * BAND * width, Math.min(height, (band + 1) * BAND) * width);
        data.set(part, at);
        at += part.length;
      }
      return { ...c, data };
    })
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const bytes = writeExr(
    { dataWindow: box, displayWindow: box, pixelAspectRatio: 1, attributes: [], channels: cut },
    { compression: 'zip' },
  );
  return Math.round((bytes.length * height) / rows);
}

export const sizeText = (bytes: number): string =>
  bytes >= 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1e3))} kB`;

/** ID layers with more ranks, or finer coverage, than anything in them needs. */
async function fatLayers({ cast, layers, image: { header }, read, width }: Inspected): Promise<Finding[]> {
  const findings: Finding[] = [];
  const own = new Set(header.channels.filter((c) => !c.derived).map((c) => c.name));
  for (const { name, index } of cast) {
    const layer = layers.find((l) => l.name === name);
    if (layer?.kind !== 'cryptomatte' || !layer.channels.every((c) => own.has(c))) continue;
    const planes = await read!(layer.channels);
    const info = (n: string): ChannelInfo => header.channels.find((c) => c.name === n)!;
    // Coverage in half is written as it is; only what is float is compared.
    if (layer.channels.some((c) => info(c).type !== 'float')) continue;
    const before = packedBytes(
      layer.channels.map(info),
      layer.channels.map((c) => planes.get(c)!),
      width,
    );
    const slim = slimRanks(index);
    const { channels } = encodeCryptomatte(name, slim, []);
    const after = packedBytes(
      channels,
      channels.map((c) => c.data as Float32Array),
      width,
    );
    const saved = before - after;
    if (saved < BYTES || saved < SHARE * before) continue;
    findings.push({
      severity: 'info',
      code: 'larger-than-needed',
      message: `${name} could be ${Math.round((100 * saved) / before)} % smaller: about ${sizeText(saved)} of ${sizeText(before)} a frame, packed. ${layer.info.ranks.length > slim.ids.length ? `No pixel needs more than ${slim.ids.length} of its ${layer.info.ranks.length} ranks, and coverage` : 'Its coverage'} is finer than a thousandth.`,
      remedy: { label: 'Make it slim', mend: { what: 'slim', layer: name } },
    });
  }
  return findings;
}

/** Passes of light in 32 bits that hold nothing which 16 would not. */
function fatPasses({ image: { header }, stats, layers, width, height }: Inspected): Finding[] {
  const ids = new Set(layers.flatMap((l) => [...l.channels, ...(l.members ?? []).map((m) => m.channel)]));
  const byLayer = new Map<string, ChannelInfo[]>();
  for (const c of header.channels)
    if (!c.derived && !ids.has(c.name))
      byLayer.set(layerOfChannel(c.name), [...(byLayer.get(layerOfChannel(c.name)) ?? []), c]);
  const fat = [...byLayer].filter(
    ([layer, channels]) =>
      layerKindOf(layer, channels.length).shownAs === 'light' &&
      channels.every((c) => c.type === 'float' && c.bits === undefined && stats?.get(c.name)?.finer === 0),
  );
  if (fat.length === 0) return [];
  const bytes = fat.reduce((sum, [, channels]) => sum + 2 * channels.length, 0) * width * height;
  const names = fat.map(([layer]) => (layer === 'RGBA' ? 'The picture' : layer)).join(', ');
  return [
    {
      severity: 'info',
      code: 'larger-than-needed',
      message: `${names} ${fat.length === 1 ? 'is' : 'are'} stored as 32-bit float but hold${fat.length === 1 ? 's' : ''} nothing that 16-bit half would not: ${sizeText(bytes)} a frame, unpacked. Have light written as half.`,
    },
  ];
}

export const larger: Check = {
  code: 'larger-than-needed',
  title: 'Size against what is in it',
  scope: 'frame',
  run: async (open) => [...(open.read ? await fatLayers(open) : []), ...fatPasses(open)],
};
