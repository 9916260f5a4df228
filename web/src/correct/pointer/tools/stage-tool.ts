import type { Component } from 'vue';
import type { ToolHost, ViewerTool } from '../../../viewer/tool.ts';

/**
 * What the pointer can do in the picture of this stage: one file a tool, and one line in `list.ts`. A tool puts a gesture of
 * the viewer (`viewer/tools`) together with what that does to the open change.
 */
export interface StageTool {
  name: string;
  /** How it is chosen by hand. What has none is chosen by a setting that needs it, and goes when that is done. */
  choice?: { label: string; key: string; icon: Component };
  /** What can be set of it, beside the choice. */
  options?: Component;
  /** Made once for the stage, within its setup; then for the viewer. */
  use(): (host: ToolHost) => ViewerTool;
}
