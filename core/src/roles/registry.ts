import { flatColour } from './flat-colour.ts';
import { numberPass } from './number-pass.ts';
import { objectBuffer } from './object-buffer.ts';
import { puzzleMatte } from './puzzle-matte.ts';
import type { RoleKind, RoleUse } from './role.ts';

/** Every kind of ID pass that a layer of channels can be. */
export const ROLES: readonly RoleKind[] = [puzzleMatte, flatColour, numberPass, objectBuffer] as RoleKind[];

export const roleKind = (use: RoleUse): RoleKind | undefined => ROLES.find((k) => k.role === use.role);

/** JSON schema of a use of any role. */
export const ROLE_SCHEMA = {
  anyOf: [
    {
      type: 'object',
      additionalProperties: false,
      required: ['role'],
      properties: { role: { const: 'pass' } },
    },
    ...ROLES.map(({ schema }) => ({ type: 'object', additionalProperties: false, ...schema })),
  ],
} as const;
