import {
  frameNumbers,
  inspectVersion,
  inspectWhole,
  missingFrames,
  seenMembers,
  things,
  type Finding,
  type Inspection,
  type SeenFrame,
} from '@zesty-crow/core';
import { basename } from 'node:path';
import { openFile, openGroup, openGroups, type OpenGroup } from '../files.ts';

const told = (f: Finding): string => `${f.severity} ${f.code}: ${f.message}`;

function readable(i: Inspection): string {
  const lines = [
    `${i.width} x ${i.height}, ${i.compression}, ${i.channels.length} channels`,
    ...i.idLayers.map(
      (l) =>
        `${l.name}: ${l.kind}, ${l.ranks} ranks, ${things(l.members).length} members, names ${l.manifest}`,
    ),
    ...i.idLayers.flatMap((l) => [
      '',
      l.name,
      ...l.members.map((m) => `  ${m.id}  ${m.coverage.toFixed(1).padStart(11)} px  ${m.name}`),
    ]),
    ...(i.findings.length ? [''] : []),
    ...i.findings.map(told),
  ];
  return lines.join('\n');
}

/** What several files are: their versions, why they belong together, and what is in the first frame of each. */
function readableGroup({ group }: OpenGroup, first: Inspection, overall: readonly Finding[]): string {
  return [
    `${group.name}${group.version ? ` ${group.version}` : ''}`,
    ...group.files.map((f) => `  ${f.file.path}: ${f.why || 'by its name'}`),
    ...group.doubts.map((d) => `  not certain: ${d}`),
    ...overall.map((f) => `  ${told(f)}`),
    '',
    readable(first),
  ].join('\n');
}

/** Members of every frame of a version, of which the first is open already. */
async function seenFrames({ group, frame: first }: OpenGroup): Promise<SeenFrame[]> {
  const numbers = frameNumbers(
    group.files.map(({ file, role, frame }) => ({ role, frame, name: basename(file.path) })),
  );
  const seen: SeenFrame[] = [];
  for (const number of numbers.length ? numbers : [undefined]) {
    const frame = number === numbers[0] ? first : await openGroup(group, number);
    const cast = await frame.cast();
    seen.push({
      frame: number ?? 0,
      layers: new Map(cast.map((layer) => [layer.name, seenMembers(layer)])),
    });
  }
  return seen;
}

/** What is wrong with each version over its frames, and against the one before of the same name. */
async function inspectOverall(versions: readonly OpenGroup[]): Promise<Finding[][]> {
  const all: Finding[][] = [];
  const before = new Map<string, { number: number; frame: SeenFrame }>();
  for (const version of versions) {
    const { name, version: named } = version.group;
    const seen = await seenFrames(version);
    const earlier = before.get(name);
    all.push(
      inspectVersion({ frames: seen.map((s) => s.frame), seen, ...(earlier ? { before: earlier } : {}) }),
    );
    const number = Number(/\d+/.exec(named ?? '')?.[0] ?? 0);
    if (seen[0]) before.set(name, { number, frame: seen[0] });
  }
  return all;
}

/** `inspect FILES…`: what is in them, as text or JSON; several files or a folder are grouped into versions. */
export async function inspectCommand(files: string[], options: { json?: boolean }): Promise<void> {
  const print = (value: unknown, text: string) =>
    process.stdout.write(`${options.json ? JSON.stringify(value, null, 1) : text}\n`);
  const [only] = files;
  const groups = await openGroups(files);
  if (!groups) {
    const inspection = await inspectWhole(await openFile(only!));
    print(inspection, readable(inspection));
    return;
  }
  const inspected: Inspection[] = [];
  for (const { frame } of groups.versions) inspected.push(await inspectWhole(await frame.all()));
  const overall = await inspectOverall(groups.versions);
  const versions = groups.versions.map(({ group }, i) => ({
    name: group.name,
    version: group.version ?? null,
    files: group.files.map((f) => ({
      file: f.file.path,
      frame: f.frame,
      role: f.role,
      pass: f.label,
      why: f.why,
    })),
    doubts: group.doubts,
    missingFrames: missingFrames(group),
    overall: overall[i]!,
    first: inspected[i]!,
  }));
  const refused = groups.refused.map(({ file, why }) => ({ file: file.path, why }));
  print(
    { versions, refused },
    [
      ...groups.versions.map((g, i) => readableGroup(g, inspected[i]!, overall[i]!)),
      ...refused.map((r) => `left out: ${r.file}, ${r.why}`),
    ].join('\n\n'),
  );
}
