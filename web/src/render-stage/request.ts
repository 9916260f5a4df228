import {
  partsOfPicks,
  srgbToLinear,
  type MaterialOverride,
  type Plan,
  type RenderRequest,
  type Roster,
} from '@zesty-crow/core';
import type { MemberPick } from '@zesty-crow/core/picks';

/** What is chosen in the form. Members are named `layer:name`, those of a wish `wish:id`. */
export interface Choices {
  what: RenderRequest['what'];
  /** Id of the version that the result joins or lies over. */
  base?: string;
  who: string[];
  /** Cut away what is in front of the members. */
  covered: boolean;
  catcher: string[];
  override: MaterialOverride;
}

/** A request as it goes to the server, or why it cannot. */
export interface Asked {
  request: RenderRequest;
  base?: string;
  fault?: string;
}

/** All that can be named as a member, by kind; wishes come first. */
export function memberOptions(plan: Plan, roster: Roster) {
  const named = (layer: 'groups' | 'objects' | 'materials') =>
    roster[layer].map(({ name }) => ({ value: `${layer}:${name}`, label: name }));
  return [
    {
      kind: 'wish',
      list: plan.wishes.map((w) => ({ value: `wish:${w.id}`, label: w.words || 'unnamed wish' })),
    },
    { kind: 'group', list: named('groups') },
    { kind: 'object', list: named('objects') },
    { kind: 'material', list: named('materials') },
  ];
}

function picksOf(values: readonly string[], plan: Plan): MemberPick[] {
  return values.flatMap((value): MemberPick[] => {
    const colon = value.indexOf(':');
    const layer = value.slice(0, colon);
    const member = value.slice(colon + 1);
    if (layer === 'wish') return plan.wishes.find((w) => w.id === member)?.who ?? [];
    return [{ mode: 'with', layer, member }];
  });
}

/** An override from the form's fields; what is not set stays as it is. The colour is CSS `rgb(…)`, display-referred sRGB. */
export function overrideOf(
  colour: string | null,
  metalness: number | undefined,
  roughness: number | undefined,
): MaterialOverride {
  const rgb = (colour?.match(/[\d.]+/g) ?? []).slice(0, 3).map((n) => srgbToLinear(Number(n) / 255));
  return {
    ...(rgb.length === 3 ? { colour: [rgb[0]!, rgb[1]!, rgb[2]!] as const } : {}),
    ...(metalness === undefined ? {} : { metalness }),
    ...(roughness === undefined ? {} : { roughness }),
  };
}

/** Makes the request, with a fault in words while something it needs is missing. */
export function requestOf(choices: Choices, plan: Plan, roster: Roster): Asked {
  const { what, base, override } = choices;
  const request: RenderRequest = { what };
  const faults: string[] = [];
  if (what === 'cut-out' || what === 'patch') {
    request.who = picksOf(choices.who, plan);
    if (request.who.length === 0) faults.push('Say which members.');
  }
  if (what === 'cut-out') {
    request.keepCovered = choices.covered;
    if (choices.catcher.length) request.catcher = picksOf(choices.catcher, plan);
  }
  if (what === 'patch') {
    // The override goes to every material that the members have.
    const sources = partsOfPicks(request.who!, roster).map(
      (p) => roster.materials[roster.parts[p]!.material]!.source,
    );
    request.looks = Object.fromEntries(sources.map((source) => [source, override]));
    if (Object.keys(override).length === 0) faults.push('Give them a new look.');
    if (!base) faults.push(`No version is ${plan.render.width} x ${plan.render.height}, as the plan says.`);
  }
  const needsBase = what === 'ids' || what === 'patch';
  return {
    request,
    ...(needsBase && base ? { base } : {}),
    ...(faults[0] ? { fault: faults[0] } : {}),
  };
}
