import { mkdirSync } from 'node:fs';
import { basename, extname, join } from 'node:path';
import {
  checkPlan,
  duration,
  fileName,
  megabytes,
  momentOf,
  type Plan,
  rosterOf,
  sceneAt,
  SceneError,
  settingsFault,
  stage,
} from '@zesty-crow/core';
import { renderFrame } from '@zesty-crow/core/node';
import { CommandError } from '../fail.ts';
import { targetKind, writeBytes } from '../files.ts';
import { openSceneFile, plainPlan, readPlan } from '../scene-files.ts';

interface Options {
  out: string;
  plan?: string;
  frames?: string;
  width?: string;
  height?: string;
  samples?: string;
  minutes?: string;
  noise?: string;
  seed?: string;
  threads?: string;
  idsOnly?: boolean;
}

function wholeOption(text: string | undefined, name: string): number | undefined {
  if (text === undefined) return undefined;
  const value = Number(text);
  if (!Number.isInteger(value)) throw new CommandError(`--${name} must be a whole number.`);
  return value;
}

function numberOption(text: string, name: string, least: number, most: number): number {
  const value = Number(text);
  if (text.trim() === '' || !(value >= least && value <= most))
    throw new CommandError(`--${name} must be a number from ${least} to ${most}.`);
  return value;
}

/** Samples after which a render gives up becoming clean. */
const MOST_WHEN_CLEAN = 4096;

/** The plan with what the command line says on top. */
function planOf(options: Options): Plan {
  const plan = options.plan === undefined ? plainPlan() : readPlan(options.plan);
  for (const name of ['width', 'height', 'samples', 'seed'] as const) {
    const value = wholeOption(options[name], name);
    if (value !== undefined) plan.render[name] = value;
  }
  // What is said to end the render does, whatever the plan says; only one thing can.
  const ends = (['samples', 'minutes', 'noise'] as const).filter((name) => options[name] !== undefined);
  if (ends.length > 1) throw new CommandError(`Give one of --${ends.join(' and --')}: what ends the render.`);
  const [end] = ends;
  if (end) plan.render.doneWhen = end === 'samples' ? 'samples' : end === 'minutes' ? 'time' : 'clean';
  if (end === 'minutes') plan.render.minutes = numberOption(options.minutes!, 'minutes', 0.05, 100_000);
  if (end === 'noise') {
    plan.render.noise = numberOption(options.noise!, 'noise', 0.1, 100) / 100;
    plan.render.samples = Math.max(plan.render.samples, MOST_WHEN_CLEAN);
  }
  if (options.frames !== undefined) {
    const range = /^(\d+)(?:-(\d+))?$/.exec(options.frames);
    if (!range) throw new CommandError('--frames is a number or a range such as 1-12.');
    plan.render.first = Number(range[1]);
    plan.render.last = Number(range[2] ?? range[1]);
  }
  return plan;
}

/** `render SCENE`: picture and passes of a plan, or the picture and both cryptomattes without one. */
export async function renderCommand(scene: string, options: Options): Promise<void> {
  const plan = planOf(options);
  const single = extname(options.out) !== '';
  if (single) targetKind(options.out, ['exr'] as const);
  const sequence = plan.render.last > plan.render.first;
  if (single && sequence) throw new CommandError('--out must be a folder for more than one frame.');
  if (single && plan.output.idsApart)
    throw new CommandError('--out must be a folder: the plan writes ID passes into a file of their own.');
  const threads = wholeOption(options.threads, 'threads');
  if (threads !== undefined && !(threads > 0 && threads <= 256))
    throw new CommandError('--threads must be a whole number from 1 to 256.');
  const { file, outline } = await openSceneFile(
    scene,
    plan.render.surroundings ? [plan.render.surroundings] : [],
  );
  const roster = rosterOf(outline, plan);
  const faults = checkPlan(plan, roster).filter((f) => f.severity === 'error');
  if (faults.length)
    throw new CommandError(`The plan cannot be rendered. ${faults.map((f) => f.message).join(' ')}`);
  for (const f of outline.findings.filter((f) => f.severity !== 'info'))
    process.stderr.write(`${f.message}\n`);
  const request = { what: options.idsOnly ? ('ids' as const) : ('all' as const) };
  try {
    const { settings } = stage(sceneAt(file, momentOf(plan, plan.render.first)), plan, roster, request);
    const fault = settingsFault(settings);
    if (fault) throw new CommandError(fault);
    if (!single) mkdirSync(options.out, { recursive: true });
    for (let frame = plan.render.first; frame <= plan.render.last; frame++) {
      const started = performance.now();
      let shown = 0;
      const done = await renderFrame(file, plan, roster, request, frame, {
        ...(threads ? { threads } : {}),
        onProgress: ({ share }) => {
          const now = performance.now();
          if (!process.stderr.isTTY || (now - shown < 200 && share < 1)) return;
          shown = now;
          process.stderr.write(`\rframe ${frame}: ${(share * 100).toFixed(0)} %${share < 1 ? '' : '\n'}`);
        },
      });
      for (const { layers, bytes } of done.files)
        writeBytes(
          single
            ? options.out
            : join(
                options.out,
                fileName(plan.output, layers, {
                  shot: basename(scene, extname(scene)),
                  version: 1,
                  frame,
                  camera: plan.render.camera || (outline.cameras[0] ?? 'camera'),
                }),
              ),
          bytes,
        );
      const errors = done.findings.filter((f) => f.severity === 'error');
      if (errors.length) throw new CommandError(`Frame ${frame}: ${errors.map((f) => f.message).join(' ')}`);
      const seconds = (performance.now() - started) / 1000;
      process.stderr.write(
        `frame ${frame}: ${duration(seconds)}, ${(done.rays / seconds / 1e6).toFixed(2)} million rays/s\n`,
      );
      if (options.plan)
        for (const p of done.measured.passes)
          process.stderr.write(`  ${p.title}: ${duration(p.seconds)}, ${megabytes(p.bytes)}\n`);
    }
  } catch (error) {
    if (error instanceof SceneError) throw new CommandError(`${scene}: ${error.message}`);
    throw error;
  }
}
