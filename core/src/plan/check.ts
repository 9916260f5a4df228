import type { Finding } from '../findings/finding.ts';
import { idOfName } from '../idlayers/ids.ts';
import { matchMembers } from '../picks/patterns.ts';
import { passKind } from '../passes/registry.ts';
import { namingFault } from './naming.ts';
import type { Plan } from './plan.ts';
import { partsOfPicks, type Roster } from '../roster/roster.ts';

/** Names that programs give by themselves and that say nothing. */
const DEFAULT_NAME =
  /^(unnamed|mesh|object|node|cube|sphere|plane|cylinder|cone|torus|group|null|empty|material|default|lambert|phong)[ ._-]?\d*$/i;

const last = (name: string) => name.slice(name.lastIndexOf('/') + 1);
const some = (names: readonly string[]) =>
  `${names
    .slice(0, 3)
    .map((n) => `"${n}"`)
    .join(', ')}${names.length > 3 ? ` and ${names.length - 3} more` : ''}`;

/**
 * What is wrong with a plan for a scene, in plain words. Errors keep it from being rendered; warnings say what the
 * artist may regret.
 */
export function checkPlan(plan: Plan, roster: Roster): Finding[] {
  const findings: Finding[] = [];
  const say = (severity: Finding['severity'], code: string, message: string) =>
    findings.push({ severity, code, message });

  for (const [what, entries] of [
    ['objects', roster.objects],
    ['materials', roster.materials],
  ] as const) {
    const byName = new Map<string, number>();
    const byId = new Map<number, string>();
    for (const { name } of entries) {
      byName.set(name, (byName.get(name) ?? 0) + 1);
      const other = byId.get(idOfName(name));
      if (other !== undefined && other !== name)
        say('error', 'name-clash', `"${name}" and "${other}" would get the same ID. Rename one of them.`);
      byId.set(idOfName(name), name);
    }
    const doubles = [...byName].filter(([, n]) => n > 1).map(([name]) => name);
    if (doubles.length)
      say(
        'error',
        'name-double',
        `Several ${what} are called ${some(doubles)}. Give each a name of its own: masks cannot tell them apart.`,
      );
    const plain = entries.filter((e) => DEFAULT_NAME.test(last(e.name))).map((e) => e.name);
    if (plain.length)
      say(
        'warning',
        'name-default',
        `Names of ${what} that say nothing: ${some(plain)}. Rename them while it is easy.`,
      );
    const empty = entries.filter((e) => e.name.trim() === '');
    if (empty.length)
      say('error', 'name-empty', `${empty.length} of the ${what} have an empty name. Give them names.`);

    const byNumber = new Map<number, typeof entries>();
    for (const e of entries) if (e.number > 0) byNumber.set(e.number, [...(byNumber.get(e.number) ?? []), e]);
    for (const [number, group] of byNumber) {
      // A group or a rule that hands one number to many is meant; numbers given apart that meet are not.
      const own = group.filter((e) => e.numberFrom === 'own');
      if (own.length > 1 || (own.length === 1 && group.length > 1))
        say(
          'warning',
          'number-clash',
          `Number ${number} belongs to ${group.length} ${what} that were numbered apart: ${some(group.map((e) => e.name))}. They will share one mask.`,
        );
    }
  }

  const gone = Object.keys(plan.objects).filter(
    (path) => !roster.objects.some((o) => o.source === path) && !roster.groups.some((g) => g.path === path),
  );
  if (gone.length)
    say(
      'warning',
      'object-gone',
      `The plan has settings for ${some(gone)}, which the scene does not have. They are kept, but do nothing.`,
    );
  for (const rule of plan.rules) {
    const entries = rule.what === 'objects' ? roster.objects : roster.materials;
    if (
      matchMembers(
        rule.pattern,
        // Any ID but that of nothing, which no rule means.
        entries.map((e) => ({ name: e.name, id: 1 })),
      ).length === 0
    )
      say('warning', 'rule-empty', `The rule "${rule.pattern}" matches none of the ${rule.what}.`);
  }
  for (const wish of plan.wishes)
    if (wish.who.length && partsOfPicks(wish.who, roster).length === 0)
      say('warning', 'wish-empty', `"${wish.words}" points at nothing that the scene has.`);

  const on = plan.passes.filter((p) => p.on);
  const names = new Map<string, string>();
  for (const use of on) {
    const kind = passKind(use.kind);
    if (!kind) {
      say('error', 'pass-unknown', `The plan asks for a pass "${use.kind}", which is not known here.`);
      continue;
    }
    const fault = kind.fault?.(use.values, roster);
    if (fault) say(fault.severity, 'pass-fault', `${kind.title(use.values)}: ${fault.message}`);
    if (fault?.severity === 'error') continue;
    for (const { name } of kind.channels(use.values, roster)) {
      const other = names.get(name);
      if (other !== undefined) {
        say(
          'error',
          'pass-double',
          `${kind.title(use.values)} and ${other} would write the same layer "${name}". Remove or change one of them.`,
        );
        break;
      }
      names.set(name, kind.title(use.values));
    }
  }
  const { render } = plan;
  if (render.last < render.first) say('error', 'frames', 'The last frame comes before the first one.');
  const naming = namingFault(plan.output, render.last > render.first);
  if (naming) say('error', 'output', naming);
  return findings;
}
