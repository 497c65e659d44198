import { onceForEach } from '../geometry';
import type { SectionResult } from './kind';
import type { Mount } from './mount';
import { programmedAt } from './section';
import { type Tool, toolFacts, toolSection } from './tool';

/**
 * A mounted tool as the work in a spindle sees it, in that spindle's own frame. A spindle that is turned to face the main one
 * has its frame turned about X: a tool that stands across the axis is seen with its back up there, one that lies along the
 * axis has to be mounted with its point toward that spindle. Null where it points the other way.
 */
export const standingTool = (tool: Tool, mount: Mount | null, turned: boolean): SectionResult | null => {
  const wayUp = mount?.wayUp ?? 'usual';
  const which = mount?.point ?? 'tip';
  if (toolFacts(tool).stands === 'across')
    return namedBy(toolSection(tool, turned ? (wayUp === 'usual' ? 'turned' : 'usual') : wayUp), which);
  return (mount?.facing === 'sub') === turned ? namedBy(toolSection(tool, wayUp), which) : null;
};

/** A section with the point that a program names, made once for each. */
const namedBy = onceForEach(
  (made: SectionResult, which: Mount['point']): SectionResult =>
    made.ok && which !== 'tip' ? { ok: true, section: programmedAt(made.section, which) } : made,
  (which) => which,
);
