import { asFloats, ROLES, type RoleUse } from '@zesty-crow/core';
import type { Question } from './question.ts';
import { channelsOf } from './source.ts';

/** What a name is given to at a pixel of channels that take a role. */
export const roleKey: Question<
  { role: RoleUse['role']; channels: readonly string[]; x: number; y: number; layer?: undefined },
  string | undefined
> = {
  none: undefined,
  async answer({ open }, { role, channels, x, y }) {
    const own = await channelsOf(open, channels);
    const values = own.map((c) => asFloats(c)[y * open.frame.width + x]!);
    return ROLES.find((k) => k.role === role)?.keyOf?.(own, values);
  },
};
