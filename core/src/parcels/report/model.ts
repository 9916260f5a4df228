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
import type { ParcelEnv, ParcelRequest } from '../kind.ts';
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
/** All that a report tells; how it looks is another's business. */
export interface Report {
  title: string;
  facts: string[];
  before: ReportPicture;
  after: ReportPicture;
  changes: ReportChange[];
  variants: { name: string; sets: string[] }[];
  findings: string[];
  /** The files that the frame was rendered into: what all of this was made from. */
  files: { name: string; bytes: number; sha256: string }[];
}

const SMALL = 360;
const LARGE = 1280;

const pickWords = ({ mode, member, layer }: MemberPick) => `${mode} ${member} (${layer})`;
const hex = (rgb: readonly number[]) =>
  `#${rgb.map((v) => Math.round(displayByte(v)).toString(16).padStart(2, '0')).join('')}`;

async function filesOf({ parts }: Pick<Frame, 'parts'>): Promise<Report['files']> {
  const files = new Map(parts.map((p) => [p.name, p.bytes]));
  return Promise.all(
    [...files].map(async ([name, bytes]) => {
      const sum = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes.slice()));
      const sha256 = Array.from(sum, (b) => b.toString(16).padStart(2, '0')).join('');
      return { name, bytes: bytes.length, sha256 };
    }),
  );
}

/** Gathers what a report of a frame tells. Rejects with VersionError where there is no picture. */
export async function reportOf(
  frame: Frame,
  open: OpenPicture,
  request: ParcelRequest,
  env: ParcelEnv,
): Promise<Report> {
  needPicture(open);
  const { list, shot, version } = request;
  const changes = listedChanges(list, request);
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
      before: smallPng(planes, area, SMALL),
      after: smallPng(stack.result, area, SMALL),
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
    title: shot,
    facts: [
      `Version ${version}`,
      ...(request.frame === undefined ? [] : [`Frame ${request.frame}`]),
      `${open.width} x ${open.height} pixels`,
      `${changes.filter((c) => c.done).length} of ${changes.length} changes done`,
    ],
    before: smallPng(planes, wholeArea(open), LARGE),
    after: smallPng(stack.result, wholeArea(open), LARGE),
    changes: told,
    variants: list.variants.map((v) => ({
      name: v.name,
      sets: differencesOf(list, v).map(
        (d) => `${d.change.words || 'Change'}: ${d.field?.label ?? 'switch'} ${describeValue(d.field, d.to)}`,
      ),
    })),
    files: await filesOf(frame),
    findings: [...open.findings.map((f) => f.message), ...failures.map((f) => f.message)],
  };
}
