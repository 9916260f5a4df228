import { ExrError } from '../formats/exr/errors.ts';
import { readExr } from '../formats/exr/read.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { findBeauty } from '../version/beauty.ts';
import { SceneError, type SceneFile } from '../scene/open.ts';
import type { Surroundings } from '../scene/scene.ts';
import type { Plan } from './plan.ts';

/**
 * The picture that lights a scene from all around, if the plan names one. Throws {@link SceneError} if it is missing
 * or no picture.
 */
export function surroundingsOf(file: SceneFile, plan: Plan): Surroundings | undefined {
  const { surroundings: name, surroundingsTurn, surroundingsStops } = plan.render;
  if (!name) return undefined;
  const bytes = file.beside.get(name);
  if (!bytes)
    throw new SceneError(
      `The picture of the surroundings "${name}" is missing. Add it to the scene's files.`,
    );
  try {
    const image = readExr(bytes);
    const beauty = findBeauty(image.header);
    if (!beauty) throw new SceneError(`"${name}" holds no picture that could light the scene.`);
    const planes = [beauty.r, beauty.g, beauty.b].map((c) =>
      asFloats(image.channels.find((x) => x.name === c)!),
    );
    const { dataWindow: box } = image.header;
    const width = box.xMax - box.xMin + 1;
    const height = box.yMax - box.yMin + 1;
    const data = new Float32Array(3 * width * height);
    // Light that is negative or no number would spoil every pixel that it reaches.
    for (let i = 0; i < width * height; i++)
      for (let k = 0; k < 3; k++) {
        const v = planes[k]![i]!;
        data[3 * i + k] = v > 0 && Number.isFinite(v) ? v : 0;
      }
    return { width, height, data, turn: (surroundingsTurn * Math.PI) / 180, gain: 2 ** surroundingsStops };
  } catch (error) {
    if (error instanceof ExrError)
      throw new SceneError(`The surroundings "${name}" cannot be read: ${error.message}`);
    throw error;
  }
}
