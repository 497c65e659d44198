import { codeLines, controlOf, type Dialect, familyOf } from '../dialects';
import { type Finding, note } from '../findings';
import { onceFor, onceForEach } from '../geometry';
import { type Machine, mainSpindle } from '../machine';
import type { MotionEvent } from '../motion';
import { hashOf } from './hash';

interface Built {
  readonly control: Dialect;
  readonly main: string;
  readonly key: string;
}

const built = onceFor((machine: Machine): Built | null => {
  const control = controlOf(machine);
  const main = mainSpindle(machine);
  return control && { control, main, key: hashOf(control, main) };
});

const wordless = onceForEach(
  (events: readonly MotionEvent[], { control, main }: Built): string[] => {
    const family = familyOf(control);
    return [...new Set(events.flatMap((e) => family.unsaid(e, control, main) ?? []))];
  },
  ({ key }) => key,
);

/** What of an operation the control has no words for: a program without it would do something else. */
export const unsaidFindings = (id: string, events: readonly MotionEvent[], machine: Machine): Finding[] => {
  const control = built(machine);
  if (!control) return [];
  return wordless(events, control).map((what) =>
    note('blocking', 'event-not-run', id, { what, coded: codeLines(machine).some((c) => c.name.startsWith(what)) }),
  );
};
