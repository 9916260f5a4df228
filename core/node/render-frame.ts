import { availableParallelism } from 'node:os';
import { develop, type FrameFile } from '../src/plan/develop.ts';
import { momentOf, stage, type RenderRequest, type Staged } from '../src/plan/stage.ts';
import { openPicture, type OpenPicture } from '../src/version/open-picture.ts';
import { readExr } from '../src/formats/exr/read.ts';
import { mergeImages } from '../src/version/merge.ts';
import { sceneAt } from '../src/scene/read-gltf.ts';
import { passColours } from '../src/passes/colours.ts';
import { passKind } from '../src/passes/registry.ts';
import { surroundingsOf } from '../src/plan/surroundings.ts';
import { verifyFrame } from '../src/plan/verify.ts';
import type { ExrImage } from '../src/formats/exr/types.ts';
import type { Finding } from '../src/findings/finding.ts';
import type { Measured } from '../src/plan/cost.ts';
import type { Plan } from '../src/plan/plan.ts';
import { renderTiles, type Film } from '../src/render/film.ts';
import type { TileSums } from '../src/render/tile-sums.ts';
import type { Roster } from '../src/roster/roster.ts';
import type { SceneFile } from '../src/scene/open.ts';
import { renderScene, type RenderControl } from './render-pool.ts';
import { nodeZlib } from './zlib.ts';

export interface RenderedFrame {
  files: FrameFile[];
  measured: Measured;
  /** The frame as it was read back after writing. */
  open: OpenPicture;
  /** Faults of the scene that were met on the way, and of the files after writing. */
  findings: Finding[];
  rays: number;
  film: Film;
}

export interface FrameControl extends Omit<RenderControl, 'onSnapshot'> {
  /** Seconds that the sums have taken which it begins with. */
  spent?: number;
  /** Called now and then with the frame so far, as whole files; the render goes on when it is stored. */
  onSnapshot?: (frame: Pick<RenderedFrame, 'files' | 'measured'>) => Promise<void>;
}

/** A frame of a plan made ready for the renderer; its passes can be looked at while it is rendered. */
function stagedFrame(
  file: SceneFile,
  plan: Plan,
  roster: Roster,
  request: RenderRequest,
  frame: number,
  { attention }: Pick<RenderControl, 'attention'>,
  findings: Finding[],
): Staged {
  const surroundings = surroundingsOf(file, plan);
  const posed = {
    ...sceneAt(file, momentOf(plan, frame), findings),
    ...(surroundings ? { surroundings } : {}),
  };
  const staged = stage(posed, plan, roster, request);
  attention?.showBy((id) => {
    const use = staged.uses.find((u) => u.id === id);
    const colours = use && passColours(passKind(use.kind)!, use.values, roster);
    const layer = staged.throughLayer.get(id);
    return (
      colours && {
        colours: staged.place.map((p) => colours[p] ?? [0, 0, 0]),
        ...(layer === undefined ? {} : { layer }),
      }
    );
  });
  return staged;
}

/** Which band of a still, of how many: each takes every so many-th rectangle, so that they take about equally long. */
export interface Band {
  index: number;
  of: number;
}

/** Renders one band of a frame: its sums, from which the frame is made when those of all bands are there. */
export function renderBand(
  file: SceneFile,
  plan: Plan,
  roster: Roster,
  request: RenderRequest,
  frame: number,
  { index, of }: Band,
  control: RenderControl = {},
): Promise<Film> {
  const { scene, settings } = stagedFrame(file, plan, roster, request, frame, control, []);
  const count = renderTiles(settings.width, settings.height).length;
  const only = new Set(Array.from({ length: count }, (_, i) => i).filter((i) => i % of === index));
  return renderScene(scene, settings, { ...control, only });
}

/** The sums of all bands, in the order in which a frame has them. */
export function joinBands(
  tiles: readonly TileSums[],
  { width, height }: { width: number; height: number },
): TileSums[] {
  const corner = ({ x0, y0 }: { x0: number; y0: number }) => `${x0} ${y0}`;
  const found = new Map(tiles.map((t) => [corner(t.area), t]));
  return renderTiles(width, height).map((area) => {
    const tile = found.get(corner(area));
    if (!tile) throw new Error('A band of the frame is missing.');
    return tile;
  });
}

/**
 * Renders one frame of a plan, writes its files and reads them back to check them.
 * @param base patch: the picture over which the new pixels are laid
 */
export async function renderFrame(
  file: SceneFile,
  plan: Plan,
  roster: Roster,
  request: RenderRequest,
  frame: number,
  control: FrameControl = {},
  base?: ExrImage,
): Promise<RenderedFrame> {
  const findings: Finding[] = [];
  const staged = stagedFrame(file, plan, roster, request, frame, control, findings);
  const threads = control.threads ?? availableParallelism();
  const started = performance.now();
  const developed = (film: Film) =>
    develop(film, staged, plan, roster, request, {
      zlib: nodeZlib,
      threads,
      seconds: (control.spent ?? 0) + (performance.now() - started) / 1000,
      ...(base ? { base } : {}),
    });
  const { onSnapshot, ...rest } = control;
  const film = await renderScene(staged.scene, staged.settings, {
    ...rest,
    ...(onSnapshot ? { onSnapshot: (soFar: Film) => onSnapshot(developed(soFar)) } : {}),
  });
  const { files, measured } = developed(film);
  const open = openPicture(mergeImages(files.map((f) => readExr(f.bytes))));
  return {
    files,
    measured,
    open,
    // Cut-outs, patches and the like show only a part on purpose: their alpha is not the sum of everything.
    findings: [...findings, ...verifyFrame(open, staged.uses, roster)],
    rays: film.rays,
    film,
  };
}
