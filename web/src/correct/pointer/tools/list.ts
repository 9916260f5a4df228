import { brush } from './brush.ts';
import { box, lasso } from './enclose.ts';
import { pick } from './pick.ts';
import { sample } from './sample.ts';
import type { StageTool } from './stage-tool.ts';
import { value } from './value.ts';

/** Every tool of the picture, in the order in which they are offered; the first is the one that others go back to. */
export const STAGE_TOOLS: readonly StageTool[] = [pick, lasso, box, brush, sample, value];
