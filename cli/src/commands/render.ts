import { DEFAULT_SETTINGS, readGlb, SceneError, settingsFault, type RenderSettings } from '@zesty-crow/core';
import { nodeZlib, renderScene } from '@zesty-crow/core/node';
import { Failure } from '../fail.ts';
import { readBytes, targetKind, writeBytes } from '../files.ts';

/** `render SCENE`: beauty and ID passes of a glTF scene as one EXR. */
export async function renderCommand(
  file: string,
  options: {
    out: string;
    width: string;
    height: string;
    samples: string;
    seed: string;
    threads?: string;
    idsOnly?: boolean;
  },
): Promise<void> {
  targetKind(options.out, ['exr'] as const);
  const settings: RenderSettings = {
    ...DEFAULT_SETTINGS,
    width: Number(options.width),
    height: Number(options.height),
    samples: Number(options.samples),
    seed: Number(options.seed),
    idsOnly: options.idsOnly ?? false,
  };
  const fault = settingsFault(settings);
  if (fault) throw new Failure(fault);
  const threads = options.threads === undefined ? undefined : Number(options.threads);
  if (threads !== undefined && !(Number.isInteger(threads) && threads > 0 && threads <= 256))
    throw new Failure('--threads must be a whole number from 1 to 256.');
  const bytes = readBytes(file);
  const scene = await readGlb(bytes).catch((error: unknown) => {
    throw error instanceof SceneError ? new Failure(`${file}: ${error.message}`) : error;
  });
  const started = performance.now();
  let shown = 0;
  const film = await renderScene(scene, settings, {
    ...(threads ? { threads } : {}),
    onProgress: (done) => {
      const now = performance.now();
      if (!process.stderr.isTTY || (now - shown < 200 && done < 1)) return;
      shown = now;
      process.stderr.write(
        `\r${(done * 100).toFixed(0)} %, ${((now - started) / 1000).toFixed(0)} s${done < 1 ? '' : '\n'}`,
      );
    },
  });
  writeBytes(options.out, film.toExr(scene, { zlib: nodeZlib }));
  const seconds = (performance.now() - started) / 1000;
  process.stderr.write(`${seconds.toFixed(1)} s, ${(film.rays / seconds / 1e6).toFixed(2)} million rays/s\n`);
}
