import { familyOf, findDialect } from '../dialects';
import { type Finding, note } from '../findings';
import { onceForEach } from '../geometry';
import { type Machine, mainSpindle } from '../machine';
import type { MotionEvent } from '../motion';

const wordless = onceForEach(
  (
    events: readonly MotionEvent[],
    { dialect, main }: { readonly dialect: string; readonly main: string },
  ): string[] => {
    const known = findDialect(dialect);
    if (!known) return [];
    const family = familyOf(known);
    return [...new Set(events.flatMap((e) => family.unsaid(e, known, main) ?? []))];
  },
  ({ dialect, main }) => `${dialect} ${main}`,
);

/** What of an operation the control has no words for: a program without it would do something else. */
export const unsaidFindings = (id: string, events: readonly MotionEvent[], machine: Machine): Finding[] =>
  wordless(events, { dialect: machine.dialect, main: mainSpindle(machine) }).map((what) =>
    note('blocking', 'event-not-run', id, { what }),
  );
