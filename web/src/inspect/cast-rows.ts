import type { Member } from '../picture/messages.ts';

/** A line of the cast: a member, or all members whose names begin alike. */
export interface CastRow {
  key: string;
  /** What is written: in the tree without what stands above it. */
  label: string;
  depth: number;
  /** One for a member. */
  members: readonly Member[];
  member?: Member;
  /** Of a branch: whether what is in it is listed. */
  open?: boolean;
}

interface Branch {
  path: string;
  label: string;
  branches: Map<string, Branch>;
  leaves: Member[];
  all: Member[];
}

export const listRows = (members: readonly Member[]): CastRow[] =>
  members.map((member) => ({
    key: String(member.id),
    label: member.name,
    depth: 0,
    members: [member],
    member,
  }));

/**
 * Members by the parts of their names between slashes, as lines. A branch of a single member is that member; branches
 * stand before members, each in the order of what comes first in it.
 * @param closed paths of branches whose members are not listed
 */
export function treeRows(members: readonly Member[], closed: ReadonlySet<string>): CastRow[] {
  const root: Branch = { path: '', label: '', branches: new Map(), leaves: [], all: [] };
  for (const member of members) {
    const parts = member.name.split('/').filter((p) => p !== '');
    let at = root;
    for (const part of parts.slice(0, -1)) {
      let next = at.branches.get(part);
      if (!next) {
        next = { path: `${at.path}${part}/`, label: part, branches: new Map(), leaves: [], all: [] };
        at.branches.set(part, next);
      }
      at = next;
      at.all.push(member);
    }
    at.leaves.push(member);
  }
  const rows: CastRow[] = [];
  const leaf = (member: Member, depth: number, above: string) =>
    rows.push({
      key: String(member.id),
      label: member.name.startsWith(above) ? member.name.slice(above.length) : member.name,
      depth,
      members: [member],
      member,
    });
  const list = (branch: Branch, depth: number): void => {
    for (const b of branch.branches.values()) {
      if (b.all.length === 1) {
        leaf(b.all[0]!, depth, branch.path);
        continue;
      }
      const open = !closed.has(b.path);
      rows.push({ key: b.path, label: b.label, depth, members: b.all, open });
      if (open) list(b, depth + 1);
    }
    for (const member of branch.leaves) leaf(member, depth, branch.path);
  };
  list(root, 0);
  return rows;
}
