/** Numbers equal names so that each is given once: lid, lid_2, lid_3. Linear, however many are equal. */
export class UniqueNames {
  private readonly taken = new Set<string>();
  private readonly next = new Map<string, number>();

  give(wanted: string): string {
    let name = wanted;
    let n = this.next.get(wanted) ?? 2;
    while (this.taken.has(name)) name = `${wanted}_${n++}`;
    this.next.set(wanted, n);
    this.taken.add(name);
    return name;
  }
}
