import { srgbToLinear } from '../colour/srgb.ts';
import type { Crew } from '../crew/work.ts';
import type { Finding } from '../findings/finding.ts';
import type { ChannelInfo } from '../formats/exr/types.ts';
import { idOfName, NO_ID } from '../idlayers/ids.ts';
import { apart, hexOf, keysOf, labelPixels, MOST_COLOURS, paletteOf, type Labels } from './flat/colours.ts';
import { piecesOf, relabel, touchingPieces, type Split } from './flat/places.ts';
import { bestMixture, candidatesAround, unmixColours } from './flat/unmix.ts';
import { edgesOfNumbers } from './numbers/edge-of-numbers.ts';
import { lightOf, seen } from './number-pass.ts';
import { PIECES, threeChannels, wordsOf, type FlatColourUse, type RoleKind } from './role.ts';

const NAMED = /^(flat|flatcolou?rs?|colou?rids?|idcolou?rs?|idmap)$/;
/** Colours of files packed with loss are the same within this many steps. */
const LOSSY = 3;
/** Colours that are nearer are told: a person cannot tell them apart. */
const ALIKE = 4;
/** Mixed pixels on which the space is decided. */
const PROBES = 4000;

/** What is found in the pixels of a flat-colour pass. */
interface Found {
  labels: Labels;
  /** Colours by label; several labels of one colour are told apart by place. */
  colours: number[];
  names: string[];
  /** What names are given to, by label. */
  givenTo: string[];
  /** Pieces that only the outlined twin tells apart. */
  touching: number;
}

/** Finds colours and their places. */
function find(
  planes: readonly Float32Array[],
  twin: readonly Float32Array[] | undefined,
  width: number,
  lossy: boolean,
  names: Readonly<Record<string, string>>,
  allocate: Crew['allocate'],
): Found {
  const keys = keysOf(planes);
  const palette = paletteOf(keys, width, lossy ? LOSSY : 0).slice(0, MOST_COLOURS);
  const labels = labelPixels(keys, width, palette, lossy ? 4 * LOSSY : 1, allocate);
  const lines = twin && keysOf(twin);
  const called = palette.map((key) => names[hexOf(key)] || hexOf(key));
  const givenTo = palette.map(hexOf);
  const colours = [...palette];
  const places = Object.entries(names).filter(([key, name]) => key.includes('@') && name !== '');
  // What hangs together is only looked for where something is told apart by it.
  const found = { labels, colours, names: called, givenTo, touching: 0 };
  if (!lines && places.length === 0) return found;
  const pieces = piecesOf(labels, keys, width, lines);
  const splits: Split[] = lines ? touchingPieces(labels, keys, width, pieces, colours.length) : [];
  const touching = splits.length;
  for (const { from, pieces: own } of splits) {
    colours.push(palette[from]!);
    const again = colours.filter((c) => c === palette[from]).length;
    called.push(`${called[from]} (${again})`);
    // Where the piece begins.
    const [piece] = own;
    const first = pieces.of.indexOf(piece!);
    givenTo.push(`${hexOf(palette[from]!)}@${first % width},${Math.floor(first / width)}`);
  }
  for (const [place, name] of places) {
    const at = /^(#[0-9a-f]{6})@(\d+),(\d+)$/.exec(place);
    if (!at) continue;
    const [x, y] = [Number(at[2]), Number(at[3])];
    const piece = x < width ? (pieces.of[y * width + x] ?? 0) : 0;
    const from = palette.findIndex((key) => hexOf(key) === at[1]);
    if (piece === 0 || from < 0) continue;
    // A name at a place goes before what the lines have made of it.
    const known = splits.find((s) => s.pieces.has(piece));
    if (known) called[known.to] = name;
    else {
      const same = called.indexOf(name, palette.length);
      const to = same >= 0 ? same : colours.push(palette[from]!) - 1;
      if (same < 0) {
        called.push(name);
        givenTo.push(place);
      }
      splits.push({ pieces: new Set([piece]), from, to });
    }
  }
  if (splits.length) relabel(labels, pieces.of, width, splits);
  return { ...found, touching };
}

const idsOf = ({ names, colours }: Found): Uint32Array =>
  // Black that nobody has named is what lies behind everything.
  Uint32Array.from(names, (name, i) => (colours[i] === 0 && name === hexOf(0) ? NO_ID : idOfName(name)));

/** Residual of two-member fits on a sample of mixed pixels between pure ones. */
function misfit(
  { labels }: Found,
  colours: readonly Float32Array[],
  palette: Float32Array,
  width: number,
): number {
  const height = labels.of.length / width;
  const { chosen, around } = candidatesAround({ width, height, labels });
  const step = Math.max(1, Math.floor(labels.of.length / (64 * PROBES)));
  let [sum, count] = [0, 0];
  for (let p = 0; p < labels.of.length && count < PROBES; p += step) {
    if (labels.pure[p]) continue;
    const n = around(p % width, Math.floor(p / width), 2);
    if (n !== 2) continue;
    sum += bestMixture(colours[0]![p]!, colours[1]![p]!, colours[2]![p]!, palette, chosen, n).cost;
    count++;
  }
  return count ? sum / count : 0;
}

const spaceOf = (planes: readonly Float32Array[], colours: readonly number[], to: (v: number) => number) => ({
  planes: planes.map((plane) => plane.map(to)),
  palette: Float32Array.from(
    colours.flatMap((key) => [key >> 16, (key >> 8) & 255, key & 255]),
    (v) => to(v / 255),
  ),
});

/** Everything in an unlit colour of its own, 8 bits; edges are mixtures and are taken apart. */
export const flatColour: RoleKind<FlatColourUse> = {
  role: 'flat-colour',
  label: 'Flat colours',
  purpose: 'Every thing in one colour. Mixed edges are taken apart into their shares.',
  schema: {
    required: ['role'],
    properties: { role: { const: 'flat-colour' }, outlined: PIECES.channel, names: PIECES.names },
  },
  proposes(layer) {
    const words = wordsOf(layer.name);
    const named = words.some((w, i) => NAMED.test(w) || NAMED.test(w + (words[i + 1] ?? '')));
    return named && threeChannels(layer).length === 3 ? { role: 'flat-colour' } : undefined;
  },
  keyOf: (_, values) => hexOf(keysOf(values.map((v) => Float32Array.of(v)))[0]!),
  async survey(layer, { outlined, names = {} }, source) {
    const own = threeChannels(layer);
    if (own.length < 3) return undefined;
    const prefix = outlined === undefined || outlined === 'RGBA' ? '' : `${outlined}.`;
    const twin =
      outlined === undefined
        ? []
        : ['R', 'G', 'B'].flatMap((c) => source.channels.find((known) => known.name === prefix + c) ?? []);
    const lossy = own.some((c) => c.lossy);
    const from: ChannelInfo[] = [...own, ...(twin.length === 3 ? twin : []), ...(lossy ? source.beauty : [])];
    const search = (planes: readonly Float32Array[], allocate: Crew['allocate']) =>
      find(
        planes.slice(0, 3),
        twin.length === 3 ? planes.slice(3, 6) : undefined,
        source.width,
        lossy,
        names,
        allocate,
      );
    const planes = await source.read(from.map((c) => c.name));
    const found = search(
      from.map((c) => planes.get(c.name)!),
      source.crew.allocate,
    );
    const ids = idsOf(found);
    return {
      names: found.names.flatMap((name, i) =>
        ids[i] === NO_ID ? [] : [[name, ids[i]!, found.givenTo[i]!] as const],
      ),
      findings: tell(layer.name, found, lossy),
      from,
      async make(given, out, size, crew) {
        const again = search(given, crew.allocate);
        const idOf = idsOf(again);
        if (lossy) {
          const picture = given.slice(from.length - source.beauty.length);
          const beauty = lightOf(source.beauty, picture).map((plane) => seen(plane, crew.allocate));
          await crew.share(edgesOfNumbers, { ...size, labels: again.labels.of, idOf, beauty, out });
          return;
        }
        const own3 = given.slice(0, 3);
        const spaces = [(v: number) => v, srgbToLinear].map((to) => spaceOf(own3, again.colours, to));
        const [asShown, asLight] = spaces.map((s) => misfit(again, s.planes, s.palette, size.width));
        const space = spaces[asShown! <= asLight! ? 0 : 1]!;
        const colours = space.planes.map((plane) => seen(plane, crew.allocate));
        await crew.share(unmixColours, {
          ...size,
          labels: again.labels,
          colours,
          palette: space.palette,
          idOf,
          out,
        });
      },
    };
  },
};

function tell(layer: string, { colours, names, touching }: Found, lossy: boolean): Finding[] {
  const findings: Finding[] = [];
  const warn = (code: string, message: string) =>
    findings.push({ severity: 'warning', code, message: `${layer}: ${message}` });
  if (colours.length >= MOST_COLOURS)
    warn(
      'colours-alike',
      'there are too many colours for a pass of flat ones. It seems to be lit or shaded.',
    );
  const alike = colours.flatMap((a, i) =>
    colours
      .slice(0, i)
      .flatMap((b, j) => (a !== b && apart(a, b) <= ALIKE ? [`${names[j]} and ${names[i]}`] : [])),
  );
  if (alike.length)
    warn(
      'colours-alike',
      `${alike.length === 1 ? 'two colours are' : `${alike.length} pairs of colours are`} nearly the same (${alike.slice(0, 3).join('; ')}). ${lossy ? 'Loss has mixed them; render the pass again with colours farther apart.' : 'They are told apart by their exact values; keep the file without loss.'}`,
    );
  if (touching)
    warn(
      'colours-alike',
      `${touching === 1 ? 'two things of one colour touch' : `${touching} times things of one colour touch`}; the outlined picture tells them apart.`,
    );
  if (lossy)
    warn(
      'levels-unclean',
      'it was packed with loss, which smears colours over edges. Members are found, but edges are only estimated; render it again as PNG or EXR.',
    );
  return findings;
}
