import { inspectOpen, things, type Inspection } from '@zesty-crow/core';
import { openFile } from '../files.ts';

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
    ...i.findings.map((f) => `${f.severity}: ${f.message}`),
  ];
  return lines.join('\n');
}

/** `inspect FILE`: what is in a file, as text or JSON. */
export async function inspectCommand(file: string, options: { json?: boolean }): Promise<void> {
  const inspection = inspectOpen(await openFile(file));
  process.stdout.write(`${options.json ? JSON.stringify(inspection, null, 1) : readable(inspection)}\n`);
}
