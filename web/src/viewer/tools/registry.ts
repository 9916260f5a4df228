import { brushTool } from './brush.ts';
import { boxTool, lassoTool } from './enclose.ts';
import { pickTool } from './pick.ts';
import { sampleTool } from './sample.ts';
import { valueTool } from './value.ts';

/** Every tool of the viewer. */
export const TOOLS = {
  pick: pickTool,
  lasso: lassoTool,
  box: boxTool,
  brush: brushTool,
  sample: sampleTool,
  value: valueTool,
} as const;
