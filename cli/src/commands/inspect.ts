import { inspectWhole, missingFrames, things, type Inspection } from '@zesty-crow/core';
import { openFile, openGroups, type OpenGroup } from '../files.ts';

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
    ...i.findings.map((f) => `${f.severity} ${f.code}: ${f.message}`),
  ];
  return lines.join('\n');
}

/** What several files are: their versions, why they belong together, and what is in the first frame of each. */
function readableGroup({ group }: OpenGroup, first: Inspection): string {
  const missing = missingFrames(group);
  return [
    `${group.name}${group.version ? ` ${group.version}` : ''}`,
    ...group.files.map((f) => `  ${f.file.path}: ${f.why || 'by its name'}`),
    ...group.doubts.map((d) => `  not certain: ${d}`),
    ...(missing.length ? [`  missing frames: ${missing.join(', ')}`] : []),
    '',
    readable(first),
  ].join('\n');
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
    first: inspected[i]!,
  }));
  const refused = groups.refused.map(({ file, why }) => ({ file: file.path, why }));
  print(
    { versions, refused },
    [
      ...groups.versions.map((g, i) => readableGroup(g, inspected[i]!)),
      ...refused.map((r) => `left out: ${r.file}, ${r.why}`),
    ].join('\n\n'),
  );
}
