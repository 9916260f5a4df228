import { gapsIn } from './frame-files.ts';
import { readerByName } from '../formats/registry.ts';

/** A file as it was dropped: its path with the folders that came with it, with slashes. */
export interface DroppedFile {
  path: string;
}

/** A file with its place in a version, and why it is there. */
export interface GroupedFile<F extends DroppedFile> {
  file: F;
  role: 'picture' | 'sidecar';
  frame: number | null;
  /** What tells it from the other files of its frame: `depth`; empty for what has no such word. */
  label: string;
  /** In a short sentence, for people. */
  why: string;
}

/** Files that make one version of a shot. */
export interface FileGroup<F extends DroppedFile> {
  /** What all of its names begin with. */
  name: string;
  /** `v2` where the names say so. */
  version: string | undefined;
  files: GroupedFile<F>[];
  /** What is not certain, as a question. */
  doubts: string[];
}

/**
 * Words by which names tell passes apart. They are data: whoever meets another one adds it here, with a listing in the
 * tests.
 */
const PASS_WORDS = new RegExp(
  `^(${[
    'beauty|rgba?|combined|final|picture|main|comp|color|colour',
    'z|depth|zdepth|mist|fog|n|normals?|nrm|p|pos|position|motion|velocity|vector|uv|st',
    'ao|occlusion|ambient|albedo|base|basecolou?r|diffuse|diff|specular|spec|glossy|coat|sheen',
    'reflections?|refl|refractions?|refr|transmission|sss|subsurface|emission|emissive|emit|shadows?|caustics',
    'direct|indirect|gi|lights?|lamps?|key|fill|rim|sky|env|raw|total|lighting|filter|pass|passes|aov|layers?',
    'crypto\\w*|ids?|idpass|obj|objects?|objectid|mat|materials?|materialid|mattes?|masks?|buffers?|puzzle|set|numbers?',
    'flat|flatcolou?r|lines|outlined?|alpha|holdout|data|cost|manifest|names|sidecar',
  ].join('|')})\\d*$`,
  'i',
);
/** Words after which a number counts things, and no frames. */
const COUNTED =
  /^(buffers?|puzzle|set|mattes?|masks?|ids?|layers?|lights?|lamps?|part|obj|mat|cam|camera|shot|take|pass)$/i;
const VERSION = /^v(\d+)$/i;
/** What systems leave in folders. */
const LITTER = /^(\.|thumbs\.db$|desktop\.ini$)/i;

interface Parsed<F> {
  file: F;
  role: 'picture' | 'sidecar';
  frame: number | null;
  version: string | undefined;
  base: string;
  label: string;
  why: string[];
  /** Nothing in its name but what it is a pass of. */
  bare: boolean;
}

/** Words of a name, and the sign before each. */
function wordsOf(name: string): { word: string; after: string }[] {
  return [...name.matchAll(/([._\s-]*)([^._\s-]+)/g)].map(([, after, word]) => ({
    word: word!,
    after: after!,
  }));
}

function parse<F extends DroppedFile>(file: F): Parsed<F> | { file: F; refused: string } {
  const folders = file.path.split('/');
  const name = folders.pop()!;
  if (LITTER.test(name)) return { file, refused: 'left by the system' };
  const sidecar = /\.json$/i.test(name);
  if (!sidecar && !readerByName(name)) return { file, refused: 'no picture that can be read' };
  const words = wordsOf(name.replace(/\.\w+$/, ''));
  const why: string[] = [];

  let frame: number | null = null;
  const last = words.at(-1);
  const before = words.at(-2)?.word ?? '';
  const glued = last && /^(\D*[a-z])(\d{4,})$/i.exec(last.word);
  const dotted = last?.after.includes('.') === true;
  const counting = COUNTED.test(before);
  const long = (last?.word.length ?? 0) >= 3;
  if (
    last &&
    words.length > 1 &&
    /^\d+$/.test(last.word) &&
    (dotted ? long || !counting : long && !counting)
  ) {
    frame = Number(last.word);
    words.pop();
  } else if (glued && !VERSION.test(last.word)) {
    frame = Number(glued[2]);
    last.word = glued[1]!;
  }
  if (frame !== null) why.push(`frame ${frame} by its number`);

  const at = words.findIndex(({ word }) => VERSION.test(word));
  let version = at > 0 ? words.splice(at, 1)[0]!.word.toLowerCase() : undefined;
  const label: string[] = [];
  // From the end: words of passes, and numbers that count them.
  while (words.length) {
    const { word } = words.at(-1)!;
    const before = words.at(-2)?.word ?? '';
    const counts = /^\d+$/.test(word) && COUNTED.test(before) && PASS_WORDS.test(before);
    if (!PASS_WORDS.test(word) && !counts) break;
    label.unshift(words.pop()!.word);
  }
  // Folders that are called like a pass or a version say the same as a name would.
  while (folders.length && (PASS_WORDS.test(folders.at(-1)!) || VERSION.test(folders.at(-1)!))) {
    const folder = folders.pop()!;
    if (VERSION.test(folder)) version ??= folder.toLowerCase();
    else if (label.length === 0) label.push(folder);
  }
  if (label.length) why.push(`${label.join(' ')} by its name`);
  if (version) why.push(`${version} by its name`);
  const stem = words.map(({ word, after }, i) => (i ? after : '') + word).join('');
  const base = [...folders, stem].filter((part) => part !== '').join('/');
  return {
    file,
    role: sidecar ? 'sidecar' : 'picture',
    frame,
    version,
    base,
    label: label.join(' '),
    why,
    bare: stem === '',
  };
}

const lastPart = (base: string) => base.slice(base.lastIndexOf('/') + 1);
const folderOf = (base: string) => base.slice(0, base.lastIndexOf('/') + 1);

/**
 * Groups dropped files into versions by their names: what begins alike belongs together, what is called like a pass is
 * one, a number at the end is a frame. Every decision has its reason; what is not certain is a question.
 */
export function groupFiles<F extends DroppedFile>(
  files: readonly F[],
): { groups: FileGroup<F>[]; refused: { file: F; why: string }[] } {
  const refused: { file: F; why: string }[] = [];
  const groups = new Map<string, FileGroup<F> & { base: string }>();
  const loose: Parsed<F>[] = [];
  const add = (parsed: Parsed<F>, base: string, ...more: string[]) => {
    const key = `${base}\0${parsed.version ?? ''}`;
    let group = groups.get(key);
    if (!group) {
      group = { base, name: lastPart(base), version: parsed.version, files: [], doubts: [] };
      groups.set(key, group);
    }
    const { file, role, frame, label } = parsed;
    group.files.push({ file, role, frame, label, why: [...parsed.why, ...more].join(', ') });
    return group;
  };
  const parsed = files.flatMap((file): Parsed<F>[] => {
    const one = parse(file);
    if (!('refused' in one)) return [one];
    refused.push({ file, why: one.refused });
    return [];
  });
  const pictures = parsed.filter((p) => p.role === 'picture');
  const bases = new Set(pictures.map((p) => p.base));
  /** The only shot beside files that are called like passes and nothing else. */
  const onlyShot = (folder: string): string | undefined => {
    const beside = new Set(
      pictures.filter((p) => !p.bare && folderOf(p.base) === (folder && `${folder}/`)).map((p) => p.base),
    );
    return beside.size === 1 ? [...beside][0] : undefined;
  };
  for (const p of pictures) {
    const shot = p.bare ? onlyShot(p.base) : undefined;
    if (shot !== undefined) {
      add(p, shot, `the only shot beside it is ${lastPart(shot)}`);
      continue;
    }
    // A name that begins with all of another one's belongs to that, unless it is a shot by itself.
    const longer = [...bases].filter(
      (b) =>
        b !== p.base && lastPart(b) !== '' && p.base.startsWith(b) && /^[._\s-]/.test(p.base.slice(b.length)),
    );
    const base = longer.sort((a, b) => a.length - b.length)[0];
    if (base === undefined || p.label !== '') add(p, base ?? p.base);
    else {
      const own = p.base.slice(base.length).replace(/^[._\s-]+/, '');
      const group = add({ ...p, label: own }, base, `its name begins with ${lastPart(base)}`);
      const doubt = `Is ${own} a pass of ${lastPart(base)}?`;
      if (!group.doubts.includes(doubt)) group.doubts.push(doubt);
    }
  }
  for (const p of parsed.filter((x) => x.role === 'sidecar')) {
    const same = [...groups.values()].filter(
      (g) => g.base === p.base && (!p.version || g.version === p.version),
    );
    if (same.length)
      for (const g of same) g.files.push({ ...entry(p), why: 'a list of names, called like the pictures' });
    else loose.push(p);
  }
  for (const p of loose) {
    const beside = [...groups.values()].filter((g) => folderOf(g.base) === folderOf(p.base));
    const all = beside.length ? beside : [...groups.values()];
    if (all.length === 0) refused.push({ file: p.file, why: 'a list of names without a picture' });
    for (const g of all) {
      g.files.push({ ...entry(p), why: 'a list of names, beside the pictures' });
      if (all.length > 1) g.doubts.push(`Does ${p.file.path} belong to ${g.name}?`);
    }
  }
  for (const g of groups.values()) {
    const seen = new Map<string, string>();
    for (const { role, frame, label, file } of g.files) {
      if (role !== 'picture') continue;
      const key = `${frame}\0${label}`;
      const other = seen.get(key);
      if (other !== undefined)
        g.doubts.push(`${file.path} and ${other} seem to be the same pass of the same frame.`);
      seen.set(key, file.path);
    }
    const framed = g.files.filter((f) => f.role === 'picture' && f.frame !== null).length;
    const single = g.files.filter((f) => f.role === 'picture' && f.frame === null).length;
    if (framed && single)
      g.doubts.push(
        `${single === 1 ? 'One file has' : `${single} files have`} no frame number, the others have.`,
      );
    if (g.name === '') g.name = g.files[0]!.label || 'Untitled';
  }
  return { groups: [...groups.values()].map(({ base: _, ...group }) => group), refused };
}

const entry = <F extends DroppedFile>({ file, label }: Parsed<F>): Omit<GroupedFile<F>, 'why'> => ({
  file,
  role: 'sidecar',
  frame: null,
  label,
});

/** Frames that lie between the first and the last of a group and are not there. */
export const missingFrames = ({ files }: Pick<FileGroup<DroppedFile>, 'files'>): number[] =>
  gapsIn(files.flatMap((f) => f.frame ?? []));
