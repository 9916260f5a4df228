import { validateInterpretation } from '../generated/validators.mjs';
import type { Interpretation } from './interpretation.ts';
import { VersionError } from './version-error.ts';

/** Checks an interpretation from a file. Throws {@link VersionError} that names the first fault. */
export function parseInterpretation(value: unknown): Interpretation {
  if (validateInterpretation(value)) return value as Interpretation;
  const [fault] = validateInterpretation.errors!;
  throw new VersionError(`This is no interpretation: ${fault!.instancePath || 'it'} ${fault!.message}.`);
}
