import { useView } from '../shot/view.ts';
import type { ToolHost } from '../viewer/tool.ts';
import { chosenTool } from '../viewer/tools/choice.ts';
import { STAGE_TOOLS } from './pointer/tools/list.ts';

/** What the pointer does in the picture, by the tool that is chosen. */
export function useStageTools() {
  const view = useView();
  const used = STAGE_TOOLS.map(({ name, use }) => [name, use()] as const);
  return (host: ToolHost) =>
    chosenTool(new Map(used.map(([name, make]) => [name, make(host)])), () => view.tool);
}
