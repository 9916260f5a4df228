import type { SceneOutline } from '@zesty-crow/core/scene';

/** A line of the list of what is in the scene. */
export interface Row {
  /** Path of an object or group; a material's name in the scene. */
  id: string;
  /** Last name of the path. */
  label: string;
  kind: 'object' | 'group' | 'material';
  children?: Row[];
}

/** The rows of a scene: its objects below their groups, without what cannot be seen; or its materials. */
export function rowsOf(outline: SceneOutline, what: 'objects' | 'materials'): Row[] {
  if (what === 'materials')
    return outline.materials.map((name) => ({ id: name, label: name, kind: 'material' }));
  const shown = outline.nodes.filter((n) => n.kind === 'object' && n.triangles > 0);
  const wanted = new Set(shown.map((n) => n.path));
  for (const { path } of shown)
    for (let cut = path.lastIndexOf('/'); cut > 0; cut = path.lastIndexOf('/', cut - 1))
      wanted.add(path.slice(0, cut));
  const all = new Map<string, Row>();
  const top: Row[] = [];
  for (const n of outline.nodes) {
    if (!wanted.has(n.path)) continue;
    const row: Row = { id: n.path, label: n.name, kind: n.kind === 'object' ? 'object' : 'group' };
    all.set(n.path, row);
    const above = n.parent === undefined ? undefined : all.get(n.parent);
    if (above) (above.children ??= []).push(row);
    else top.push(row);
  }
  return top;
}

/**
 * Ids of the rows from one to another, both included, in the order in which they are listed.
 * @param isOpen whether the rows below a row are listed
 * @param isListed whether a row without listed rows below it is listed
 */
export function rowsBetween(
  rows: readonly Row[],
  from: string,
  to: string,
  isOpen: (row: Row) => boolean,
  isListed: (row: Row) => boolean = () => true,
): string[] {
  const list: string[] = [];
  const visit = (row: Row): boolean => {
    const at = list.push(row.id) - 1;
    // Rows that are not listed are looked through, too: one below them may be.
    let below = false;
    for (const child of row.children ?? []) below = visit(child) || below;
    if (!isOpen(row)) list.length = at + 1;
    const listed = below || isListed(row);
    if (!listed) list.length = at;
    return listed;
  };
  rows.forEach(visit);
  const [a, b] = [list.indexOf(from), list.indexOf(to)];
  if (a < 0 || b < 0) return [to];
  return list.slice(Math.min(a, b), Math.max(a, b) + 1);
}
