import { ChangeStack } from '../../apply/change-stack.ts';
import { computeStack } from '../../apply/apply-changes.ts';
import { missingOf } from '../../apply/missing-picks.ts';
import { meanUnder } from '../../apply/swatches.ts';
import { differencesOf } from '../../changes/variant.ts';
import { listedChanges } from '../../changes/listed.ts';
import { rgbToLab, deltaE } from '../../colour/lab.ts';
import { through } from '../../colour/matrix.ts';
import { displayByte } from '../../colour/srgb.ts';
import { correctionOf } from '../../corrections/registry.ts';
import { passesFor } from '../../exports/passes-for.ts';
import { needPicture } from '../../exports/export-kind.ts';
import { describeValue, describeValues } from '../../fields/describe.ts';
import { edgeStepOf } from '../../masks/edge/registry.ts';
import { fenceKindOf } from '../../masks/fence/registry.ts';
import type { MemberPick } from '../../picks/member-pick.ts';
import type { Frame } from '../../version/frame.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import type { ParcelEnv, ParcelFrame, ParcelRequest } from '../kind.ts';
import { framesText } from '../parcel.ts';
import { areaAround, smallPng, wholeArea } from '../small.ts';

export interface ReportPicture {
  png: Uint8Array;
  width: number;
  height: number;
}
/** A change as people read about it. */
export interface ReportChange {
  words: string;
  state: string;
  who: string;
  /** Each step in a line. */
  steps: string[];
  before: ReportPicture;
  after: ReportPicture;
  /** Mean colours as hex, and how far apart they are; absent where its mask covers nothing. */
  colours: { before: string; after: string; deltaE: number } | undefined;
  comments: string[];
  /** Members it names that this version has not. */
  lost: string[];
}
/** What a report tells of a frame. */
export interface ReportFrame {
  /** Empty for a picture without a number. */
  name: string;
  before: ReportPicture;
  after: ReportPicture;
  changes: ReportChange[];
  findings: string[];
  /** The files that the frame was rendered into: what all of this was made from. */
  files: { name: string; bytes: number; sha256: string }[];
}
/** All that a report tells; how it looks is another's business. */
export interface Report {
  title: string;
  facts: string[];
  frames: ReportFrame[];
  variants: { name: string; sets: string[] }[];
}

/** Longer sides of pictures: of the whole frame, and of what a change means. */
interface Sides {
  large: number;
  small: number;
}
const ALONE: Sides = { large: 1280, small: 360 };
/** Many frames in one report have smaller pictures, so that it can still be sent. */
const AMONG_OTHERS: Sides = { large: 640, small: 240 };

const pickWords = ({ mode, member, layer }: MemberPick) => `${mode} ${member} (${layer})`;
const hex = (rgb: readonly number[]) =>
  `#${rgb.map((v) => Math.round(displayByte(v)).toString(16).padStart(2, '0')).join('')}`;

async function filesOf({ parts }: Pick<Frame, 'parts'>): Promise<ReportFrame['files']> {
  const files = new Map(parts.map((p) => [p.name, p.bytes]));
  return Promise.all(
    [...files].map(async ([name, bytes]) => {
      const sum = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes.slice()));
      const sha256 = Array.from(sum, (b) => b.toString(16).padStart(2, '0')).join('');
      return { name, bytes: bytes.length, sha256 };
    }),
  );
}

/** A frame as it is before and after, with each change. */
async function frameOf(
  { parts }: Pick<Frame, 'parts'>,
  open: OpenPicture,
  request: ParcelRequest,
  env: ParcelEnv,
  { large, small }: Sides,
): Promise<ReportFrame> {
  needPicture(open);
  const changes = listedChanges(request.list, request);
  const { crew, signal } = env;
  const stack = new ChangeStack(open.planes, open.cast, {
    passes: await passesFor(open, changes, env),
    ...(crew ? { allocate: (bytes: number) => crew.allocate(bytes) } : {}),
  });
  const failures = await computeStack(stack, changes, { crew, signal });
  const { planes } = open;
  const told = changes.map((change): ReportChange => {
    const mask = stack.mask(change.id)!;
    const area = areaAround(mask, open);
    const means = meanUnder(mask, [planes, stack.result])?.map((m) =>
      planes.toScreen ? through(planes.toScreen, m) : m,
    );
    const steps = [
      ...change.edge.filter((s) => s.on).map((s) => ({ label: 'Edge', kind: edgeStepOf(s.kind), use: s })),
      ...change.fence.filter((s) => s.on).map((s) => ({ label: 'Fence', kind: fenceKindOf(s.kind), use: s })),
      ...change.corrections
        .filter((s) => s.on)
        .map((s) => ({ label: '', kind: correctionOf(s.kind), use: s })),
    ].map(({ label, kind, use }) => {
      const values = describeValues(kind?.fields ?? [], use.values, false);
      return `${label ? `${label}: ` : ''}${kind?.label ?? use.kind}${values ? `, ${values}` : ''}`;
    });
    return {
      words: change.words || 'Without words',
      state: [change.done ? 'done' : 'open', change.on ? '' : 'not applied'].filter(Boolean).join(', '),
      who: change.who.map(pickWords).join(', ') || 'nobody is picked',
      steps,
      before: smallPng(planes, area, small),
      after: smallPng(stack.result, area, small),
      colours: means && {
        before: hex(means[0]!),
        after: hex(means[1]!),
        deltaE: deltaE(rgbToLab(...means[0]!), rgbToLab(...means[1]!)),
      },
      comments: (change.comments ?? []).map((c) => `${c.at.slice(0, 10)}: ${c.text}`),
      lost: missingOf(change, open.cast).map(pickWords),
    };
  });
  return {
    name: request.frame === undefined ? '' : `Frame ${request.frame}`,
    before: smallPng(planes, wholeArea(open), large),
    after: smallPng(stack.result, wholeArea(open), large),
    changes: told,
    files: await filesOf({ parts }),
    findings: [...open.findings.map((f) => f.message), ...failures.map((f) => f.message)],
  };
}

/** Which variant of a list is told of, where it has any. */
function variantWords({ list, variant }: Pick<ParcelRequest, 'list' | 'variant'>): string[] {
  if (list.variants.length === 0) return [];
  const own = list.variants.find((v) => v.id === variant);
  return [own ? `Variant: ${own.name}` : 'The list itself, without a variant'];
}

/**
 * Gathers what a report of some frames tells.
 * @param numbers the frames; none for a single picture, and otherwise beginning with the one that is at hand
 * Rejects with VersionError where there is no picture.
 */
export async function reportOf(
  { frame: first, at, open }: ParcelFrame,
  request: ParcelRequest,
  numbers: readonly number[],
  env: ParcelEnv,
): Promise<Report> {
  const { list, shot, version } = request;
  const all = numbers.length ? numbers : [undefined];
  const sides = all.length > 1 ? AMONG_OTHERS : ALONE;
  const frames: ReportFrame[] = [];
  const size = await open();
  for (const [i, number] of all.entries()) {
    env.signal?.throwIfAborted();
    const frame = i === 0 ? first : await at(number!);
    const picture = i === 0 ? size : await frame.all(env.signal ? { signal: env.signal } : {});
    frames.push(await frameOf(frame, picture, { ...request, frame: number }, env, sides));
    env.onProgress?.((i + 1) / all.length);
  }
  const { changes } = frames[0]!;
  const done = list.changes.filter((c) => c.done).length;
  return {
    title: shot,
    facts: [
      `Version ${version}`,
      ...variantWords(request),
      ...(numbers.length ? [`${numbers.length > 1 ? 'Frames' : 'Frame'} ${framesText(numbers)}`] : []),
      `${size.width} x ${size.height} pixels`,
      `${done} of ${changes.length} changes done`,
    ],
    frames,
    variants: list.variants.map((v) => ({
      name: v.name,
      sets: differencesOf(list, v).map(
        (d) => `${d.change.words || 'Change'}: ${d.field?.label ?? 'switch'} ${describeValue(d.field, d.to)}`,
      ),
    })),
  };
}
