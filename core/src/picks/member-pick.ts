/**
 * One entry of *who*: a member or a rule of one ID layer. Within a layer the sets are exact: `with` unites,
 * `without` takes out. `inside` limits the whole mask to what the named members cover.
 */
export interface MemberPick {
  mode: 'with' | 'without' | 'inside';
  layer: string;
  /** A name, a glob over names, or `id:xxxxxxxx`. */
  member: string;
  /** True for a rule (glob): it also takes members that appear later, in another version. */
  rule?: boolean;
}
