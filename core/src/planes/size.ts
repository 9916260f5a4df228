/** Pixels across and down. */
export interface Size {
  width: number;
  height: number;
}
