/**
 * One entry of *who*: a member or a rule of one ID layer. Within a layer the sets are exact: `with` unites,
 * `without` takes out. `inside` limits the whole mask to what the named members cover.
 */
export interface MemberPick {
  readonly mode: 'with' | 'without' | 'inside';
  readonly layer: string;
  /** A name, a glob over names, or `id:xxxxxxxx`. */
  readonly member: string;
  /** True for a rule (glob): it also takes members that appear later, in another version. */
  readonly rule?: boolean;
  /** How much of it counts, 0 to 1; all if it is left out. */
  readonly amount?: number;
  /**
   * Layers in which the same names are meant too: what is seen of them through glass or in mirrors. A version that has
   * not such a layer is none the worse for it. For a limit (`inside`) they count for nothing.
   */
  readonly also?: readonly AlsoPick[];
}

export interface AlsoPick {
  readonly layer: string;
  readonly amount: number;
}
