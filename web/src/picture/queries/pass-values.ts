import type { Question } from './question.ts';

/** What is at a pixel of a pass on the wall. */
export const passValues: Question<
  { name: string; x: number; y: number; layer?: string | undefined },
  { channel: string; value: number }[]
> = {
  none: [],
  async answer({ open, planesOf }, { name, x, y }) {
    const pass = open.wall.find((p) => p.name === name);
    const { width, height } = open.frame;
    if (!pass || x < 0 || y < 0 || x >= width || y >= height) return [];
    const planes = await planesOf(pass.name, pass.channels);
    return planes.map((p, i) => ({ channel: pass.channels[i]!, value: p[y * width + x]! }));
  },
};
