import { validatePlan } from '../generated/validators.mjs';
import type { Plan } from './plan.ts';
import { upgradePlan } from './upgrade.ts';

/** What a JSON pointer (RFC 6901) points at. */
const valueAt = (value: unknown, pointer: string): unknown =>
  pointer
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'))
    .reduce<unknown>((at, key) => (at as Record<string, unknown> | undefined)?.[key], value);

/**
 * Checks anything for being a plan, after bringing one of an earlier version up to date. Throws an Error that names the
 * place and what is wrong there.
 */
export function parsePlan(stored: unknown): Plan {
  const value = upgradePlan(stored);
  if (validatePlan(value)) return value as Plan;
  // The last one is about the whole of which the first one is a part.
  const e = validatePlan.errors![0]!;
  const allowed = (e.params as { allowedValues?: unknown[] }).allowedValues;
  const fault = allowed
    ? `is ${JSON.stringify(valueAt(value, e.instancePath))}, which is none of: ${allowed.join(', ')}`
    : e.message;
  throw new Error(`${e.instancePath || 'The document'} ${fault}`);
}
