import type { MemberPick } from '../picks/member-pick.ts';
import { passKind } from '../passes/registry.ts';
import { DEFAULT_SETTINGS, type RenderSettings } from '../render/settings.ts';
import { RAY } from '../render/ray-kinds.ts';
import { SceneError } from '../scene/open.ts';
import type { Moment } from '../scene/read-gltf.ts';
import type { Rgb, Scene } from '../scene/scene.ts';
import { gatherOf } from './cost.ts';
import type { PassUse, Plan, RenderPlan } from './plan.ts';
import type { HiddenFrom } from '../roster/names.ts';
import { partsInScene, partsOfPicks, type Roster } from '../roster/roster.ts';

/** What a render is asked for besides its plan. */
export interface RenderRequest {
  /**
   * `all`: picture and passes. `ids`: only ID and data passes, to be added to a version. `cut-out`: only some
   * members, on nothing. `patch`: some members with other materials, dropped over an earlier version.
   */
  what: 'all' | 'ids' | 'cut-out' | 'patch';
  /** Members of a cut-out or patch; layers are `objects`, `materials` and `groups`. */
  who?: MemberPick[];
  /** Cut-out: what is in front of the members still covers them. */
  keepCovered?: boolean;
  /** Cut-out: objects that catch the members' shadow and reflection, as picks. */
  catcher?: MemberPick[];
  /** Patch: new looks by the material's name in the scene. */
  looks?: Record<string, MaterialOverride>;
}
export interface MaterialOverride {
  colour?: Rgb;
  metalness?: number;
  roughness?: number;
  transmission?: number;
}

/** A scene made ready for the renderer, with what the passes need to find their way back. */
export interface Staged {
  scene: Scene;
  settings: RenderSettings;
  /** Passes that will be made. */
  uses: PassUse[];
  /** Place in the roster of each part of the scene. */
  place: number[];
  throughLayer: Map<string, number>;
}

const BITS: Record<HiddenFrom, number> = {
  camera: RAY.camera,
  reflections: RAY.reflection,
  refraction: RAY.refraction,
  shadows: RAY.shadow,
};
const ALL = RAY.camera | RAY.reflection | RAY.refraction | RAY.shadow | RAY.bounce;

/** The most samples that a pixel gets where something else ends the render. */
const WITHOUT_END = 65536;

/** What ends a render, in the renderer's numbers. */
function endOf({
  doneWhen,
  samples,
  noise,
  minutes,
}: RenderPlan): Pick<RenderSettings, 'samples' | 'noise' | 'seconds'> {
  if (doneWhen === 'time') return { samples: WITHOUT_END, noise: 0, seconds: 60 * minutes };
  return { samples, noise: doneWhen === 'clean' ? noise : 0, seconds: 0 };
}

/** A plan that takes as many samples as an earlier render has: what is laid over that one or added to it is sampled like it. */
export const sampledLike = (plan: Plan, samples: number): Plan => ({
  ...plan,
  render: { ...plan.render, doneWhen: 'samples', samples: Math.max(1, Math.round(samples)) },
});

/** When a frame of a plan is; frame 1 is the start of the animation. */
export const momentOf = (plan: Plan, frame: number): Moment => {
  const { framesPerSecond, shutter, camera } = plan.render;
  return {
    time: (frame - 1) / framesPerSecond,
    frameTime: 1 / framesPerSecond,
    shutter,
    ...(camera ? { camera } : {}),
  };
};

/** Applies a plan and a request to a posed scene. Throws {@link SceneError} if the request asks for nothing. */
export function stage(posed: Scene, plan: Plan, roster: Roster, request: RenderRequest): Staged {
  const place = partsInScene(posed, roster);
  const at = new Map(posed.objects.map((o, i) => [o.path, i]));
  const entry = new Map(roster.objects.map((o) => [o.source, o]));
  const materialEntry = new Map(roster.materials.map((m) => [m.source, m]));
  const objects = posed.objects.map((o) => {
    const sheet = plan.objects[o.path];
    const notSeenIn = (sheet?.notSeenIn ?? []).flatMap((path) => at.get(path) ?? []);
    return {
      path: o.path,
      name: entry.get(o.path)?.name ?? o.name,
      visible: (sheet?.hidden ?? []).reduce((bits, from) => bits & ~BITS[from], ALL),
      ...(notSeenIn.length ? { notSeenIn } : {}),
    };
  });
  const materials = posed.materials.map((m) => ({ ...m, name: materialEntry.get(m.name)?.name ?? m.name }));
  const { render } = plan;
  const camera = { ...posed.camera };
  if (render.lensRadius >= 0) {
    camera.lensRadius = render.lensRadius;
    camera.focus = render.focus;
  }

  const inScene = (picks: readonly MemberPick[]) => {
    const wanted = new Set(partsOfPicks(picks, roster));
    return place.flatMap((p, i) => (wanted.has(p) ? [i] : []));
  };
  const members = request.what === 'cut-out' || request.what === 'patch' ? inScene(request.who ?? []) : [];
  if ((request.what === 'cut-out' || request.what === 'patch') && members.length === 0)
    throw new SceneError('Nothing in the scene is meant by the members to render. Choose some.');
  let parts = posed.parts;
  if (request.what === 'patch')
    // Only the members change: what else has the same material keeps it.
    for (const i of members) {
      const own = request.looks?.[posed.materials[parts[i]!.material]!.name];
      if (!own) continue;
      const changed = { ...materials[parts[i]!.material]!, ...own };
      // A new colour replaces the old one, picture and all.
      if (own.colour) delete changed.colourMap;
      if (parts === posed.parts) parts = [...parts];
      parts[i] = { ...parts[i]!, material: materials.push(changed) - 1 };
    }
  if (request.what === 'cut-out') {
    const shown = new Set(members);
    const catches = new Set(inScene(request.catcher ?? []));
    parts = parts.map((p, i) => ({
      ...p,
      role: shown.has(i)
        ? ('shown' as const)
        : catches.has(i)
          ? ('catcher' as const)
          : request.keepCovered
            ? ('held' as const)
            : ('away' as const),
    }));
  }

  const light = request.what !== 'ids';
  const first = plan.wishes.filter((w) => w.first).flatMap((w) => inScene(w.who));
  const uses = plan.passes.filter((p) => p.on && (light || passKind(p.kind)?.group !== 'light'));
  const { gather, throughLayer } = gatherOf(uses);
  const settings: RenderSettings = {
    ...DEFAULT_SETTINGS,
    width: render.width,
    height: render.height,
    // Of a patch it must be known which pixels it is about before there are samples.
    ...endOf(request.what === 'patch' ? { ...render, doneWhen: 'samples' } : render),
    ...(first.length ? { first } : {}),
    bounces: render.bounces,
    filter: render.filter,
    seed: render.seed,
    light,
    gather,
    ...(request.what === 'patch' ? { patch: members } : {}),
  };
  return { scene: { ...posed, objects, materials, parts, camera }, settings, uses, place, throughLayer };
}
