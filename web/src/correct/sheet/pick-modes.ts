import type { MemberPick } from '@zesty-crow/core';

/** How a pick counts, in words. */
export const PICK_MODES: Record<MemberPick['mode'], string> = {
  with: 'with',
  without: 'without',
  inside: 'only inside',
};
