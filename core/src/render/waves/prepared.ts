import type { Scene } from '../../scene/scene.ts';
import { MOST_BYTES, neededBytes, sceneMemory, type SceneMemory } from './scene-memory.ts';

/** What is asked of a scene besides what its memory holds. */
export type SceneFacts = Pick<Scene, 'parts' | 'camera' | 'suns' | 'lamps' | 'span'>;

/** A scene that is ready to be rendered: what render threads start from. */
export interface Prepared {
  scene: SceneFacts;
  memory: SceneMemory;
}

/** Told when a scene would take more memory than it may. */
export class SceneMemoryError extends Error {
  readonly code = 'scene-memory';

  constructor(bytes: number, budget: number) {
    const size = (n: number) => (n < 1e9 ? `${Math.ceil(n / 1e6)} MB` : `${(n / 1e9).toFixed(1)} GB`);
    super(
      `This scene needs about ${size(bytes)} of memory to be rendered, and may take ${size(budget)} here. ` +
        'Use smaller textures, take objects that are not seen out of the scene, or render it on a machine with more memory.',
    );
    this.name = 'SceneMemoryError';
  }
}

/**
 * Builds the search trees of a scene and puts all that rays need into memory.
 * @param lanes threads that are going to work on it
 * @param budget bytes that it may take while it is built and rendered, besides the scene itself
 * @throws SceneMemoryError before anything is built if it would take more, or more than WebAssembly can hold
 */
export function prepare(scene: Scene, lanes = 1, budget = MOST_BYTES): Prepared {
  const needed = neededBytes(scene, lanes);
  const most = Math.min(budget, MOST_BYTES);
  if (needed > most) throw new SceneMemoryError(needed, most);
  const { parts, camera, suns, lamps, span } = scene;
  return { scene: { parts, camera, suns, lamps, span }, memory: sceneMemory(scene, lanes) };
}
