import { pickTool } from './pick.ts';

/** Every tool of the viewer. */
export const TOOLS = { pick: pickTool } as const;
