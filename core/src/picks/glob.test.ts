import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { compileGlob } from './glob.ts';

/** The same rules as a regular expression: right for short patterns, and slow without bound for long ones. */
function reference(pattern: string): RegExp {
  const source = pattern.replace(/\*+|\?|\[(!?)([^\]]+)\]|[^*?[]+|\[/g, (part, not, set) => {
    if (part.startsWith('*')) return '[^]*';
    if (part === '?') return '[^]';
    if (set !== undefined) return `[${not ? '^' : ''}${String(set).replace(/[\\^\]]/g, '\\$&')}]`;
    return part.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  });
  return new RegExp(`^${source}$`, 'u');
}

const sign = fc.constantFrom('a', 'b', '/', '_', '.', '🐝', '(');
const name = fc.array(sign, { maxLength: 10 }).map((s) => s.join(''));
const pattern = fc
  .array(fc.oneof(sign, fc.constantFrom('*', '**', '?', '[ab]', '[!a]', '[a-z]')), { maxLength: 8 })
  .map((s) => s.join(''));

test('a glob takes what the regular expression of the same rules takes', () => {
  fc.assert(
    fc.property(pattern, name, (p, n) => {
      expect(compileGlob(p)(n)).toBe(reference(p).test(n));
    }),
    { numRuns: runs(3000) },
  );
});

test.each([
  ['lavender_*', 'lavender_sprig', true],
  ['lavender_*', 'wild_lavender_1', false],
  ['*', '', true],
  ['jars/?_lid', 'jars/🐝_lid', true],
  ['bee[', 'bee[', true],
  ['bee_[0-9][0-9]', 'bee_07', true],
  ['bee_[!0-9]', 'bee_7', false],
])('%s and %s: %s', (p, n, takes) => expect(compileGlob(p)(n)).toBe(takes));

test('many stars are no trouble', () => {
  const long = 'a'.repeat(2000);
  // As regular expressions these take longer than the universe is old.
  expect(compileGlob(`${'*a'.repeat(400)}*b`)(long)).toBe(false);
  expect(compileGlob(`${'a*'.repeat(300)}b`)(long)).toBe(false);
  expect(compileGlob('a*'.repeat(300))(long)).toBe(true);
});
