import type { Change, ChangeList, Heading } from './change.ts';

/** A row of the change list: a change, or the heading that those after it stand under. */
export type CardRow = { heading: Heading; change?: undefined } | { change: Change; heading?: undefined };

type Listed = Pick<ChangeList, 'changes' | 'headings'>;

/** The list as it is shown: each heading before its first change; those that nothing stands under come last. */
export function cardRows({ changes, headings }: Listed): CardRow[] {
  const rows: CardRow[] = [];
  const shown = new Set<string>();
  for (const change of changes) {
    const heading = headings.find((h) => h.id === change.heading);
    if (heading && !shown.has(heading.id)) {
      shown.add(heading.id);
      rows.push({ heading });
    }
    rows.push({ change });
  }
  for (const heading of headings) if (!shown.has(heading.id)) rows.push({ heading });
  return rows;
}

/** The changes in an order in which those of one heading follow each other, where the first of them is. */
export function gathered(changes: readonly Change[]): Change[] {
  const done = new Set<string>();
  return changes.flatMap((change) => {
    if (change.heading === undefined) return [change];
    if (done.has(change.heading)) return [];
    done.add(change.heading);
    return changes.filter((c) => c.heading === change.heading);
  });
}

/** A change with a heading above it, or none. */
export function withHeading(change: Change, heading: string | undefined): Change {
  if (change.heading === heading) return change;
  const { heading: _, ...rest } = change;
  return heading === undefined ? rest : { ...rest, heading };
}

/**
 * The changes after a row was dragged to another place. A heading takes its changes along. A change that is dropped
 * between changes of a heading, or right under it, stands under it; at the end of them it stays what it was.
 */
export function movedRow(list: Listed, from: number, to: number): Change[] {
  const rows = cardRows(list);
  const row = rows[from];
  if (!row) return [...list.changes];
  const rest = rows.filter((r) => r !== row && !(row.heading && r.change?.heading === row.heading.id));
  if (row.heading) {
    const own = list.changes.filter((c) => c.heading === row.heading.id);
    // Not into the middle of others.
    const before = rest.slice(0, Math.min(to, rest.length)).flatMap((r) => r.change ?? []);
    const after = rest.slice(Math.min(to, rest.length)).flatMap((r) => r.change ?? []);
    return gathered([...before, ...own, ...after]);
  }
  const under = (r: CardRow | undefined) => r?.heading?.id ?? r?.change?.heading;
  const [above, below] = [rest[to - 1], rest[to]];
  const between =
    under(above) !== undefined && (above?.heading !== undefined || under(above) === under(below));
  const stays = row.change.heading !== undefined && row.change.heading === under(above);
  const moved = withHeading(row.change, between || stays ? under(above) : undefined);
  const placed = [...rest.slice(0, to), { change: moved }, ...rest.slice(to)];
  return gathered(placed.flatMap((r) => r.change ?? []));
}
