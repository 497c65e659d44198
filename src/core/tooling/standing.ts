import type { SectionResult } from './kind';
import type { Mount } from './mount';
import { type Tool, toolFacts, toolSection } from './tool';

/**
 * A mounted tool as the work in a spindle sees it, in that spindle's own frame. A spindle that is turned to face the main one
 * has its frame turned about X: a tool that stands across the axis is seen with its back up there, one that lies along the
 * axis has to be mounted with its point toward that spindle. Null where it points the other way.
 */
export const standingTool = (tool: Tool, mount: Mount | null, turned: boolean): SectionResult | null => {
  const wayUp = mount?.wayUp ?? 'usual';
  if (toolFacts(tool).stands === 'across')
    return toolSection(tool, turned ? (wayUp === 'usual' ? 'turned' : 'usual') : wayUp);
  return (mount?.facing === 'sub') === turned ? toolSection(tool, wayUp) : null;
};
