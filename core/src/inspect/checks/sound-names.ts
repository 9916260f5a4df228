import type { Finding } from '../../findings/finding.ts';
import type { Check, Inspected } from '../check.ts';

/** Names that programs give by themselves: a kind of thing, and perhaps a number. */
const DEFAULT =
  /^(untitled|unnamed|default|none|null|empty|object|mesh|group|instance|node|cube|box|sphere|ball|plane|cylinder|cone|torus|circle|curve|text|material|mat|shader|surface|lambert|standard|principled)[\s._-]*\d*$/i;

/** What is wrong with some names of a layer, in one finding. */
function told(
  { layers }: Inspected,
  code: string,
  wrong: (names: readonly string[]) => readonly string[],
  message: (count: number, examples: string) => string,
): Finding[] {
  return layers.flatMap((layer): Finding[] => {
    const found = wrong([...layer.manifest.nameOf.values()]);
    if (found.length === 0) return [];
    const examples = found.slice(0, 3).map((n) => `“${n}”`);
    const text = message(found.length, examples.join(', '));
    return [{ severity: 'info', code, message: `${layer.name}: ${text}` }];
  });
}
const last = (name: string) => name.slice(name.lastIndexOf('/') + 1);

export const emptyNames: Check = {
  code: 'names-empty',
  title: 'Names with something in them',
  scope: 'frame',
  run: (open) =>
    told(
      open,
      'names-empty',
      (names) => names.filter((n) => n.trim() === ''),
      (n) =>
        `${n === 1 ? 'a member has' : `${n} members have`} an empty name. It can be picked, but no rule will find it by name.`,
    ),
};

export const defaultNames: Check = {
  code: 'names-default',
  title: 'Names that say what things are',
  scope: 'frame',
  run: (open) =>
    told(
      open,
      'names-default',
      (names) => names.filter((n) => DEFAULT.test(last(n).trim())),
      (n, examples) =>
        `${n === 1 ? 'a name says' : `${n} names say`} nothing (${examples}). Name things where they are made, and rules will find them in every version.`,
    ),
};

export const alikeNames: Check = {
  code: 'names-duplicate',
  title: 'Names that are told apart',
  scope: 'frame',
  run: (open) =>
    told(
      open,
      'names-duplicate',
      (names) => {
        const seen = new Set<string>();
        return names.filter((n) => {
          const plain = n.trim().toLowerCase();
          const again = plain !== '' && seen.has(plain);
          seen.add(plain);
          return again;
        });
      },
      (n, examples) =>
        `${n === 1 ? 'a name differs' : `${n} names differ`} from another one only by capitals or spaces (${examples}). Rules take both.`,
    ),
};
