import type { Scene } from '../scene/scene.ts';

/** Sources that every scene has, before its own: all that comes from around, and surfaces that shine. */
export const SOURCE = { sky: 0, shining: 1, first: 2 } as const;

/**
 * Where light comes from, by the numbers under which it is told apart: sky, shining surfaces, then the scene's suns
 * and lamps by their names. Every contribution of every path comes from exactly one, so they add up to the beauty.
 */
export const sourcesOf = ({ suns, lamps }: Pick<Scene, 'suns' | 'lamps'>): string[] => [
  'sky',
  'shining',
  ...suns.map((s) => s.name),
  ...lamps.map((l) => l.name),
];
