import type { PostedLine } from '../program';

/** Number of the first sub-program; they stand behind the end of the program. */
const FIRST_SUB = 8001;

/** One time of a group that is to be a sub-program: its lines from and up to. */
export interface Time {
  readonly repeat: string;
  readonly from: number;
  to: number;
}

/** What a line says, whichever number its operation has. */
const saying = (l: PostedLine): string => l.text.replace(/^N\d+ \(/, '(');

const same = (a: readonly PostedLine[], b: readonly PostedLine[]): boolean =>
  a.length === b.length && a.every((l, i) => saying(l) === saying(b[i]));

/**
 * Every time of a group becomes a call of what the second one says, which stands behind the program; the first is written out
 * where it says something else, as it does on the sawn end of a bar. Null where a later one says anything else.
 */
export const withSubPrograms = (lines: readonly PostedLine[], times: readonly Time[]): readonly PostedLine[] | null => {
  if (times.length === 0) return lines;
  const bodyOf = (t: Time): readonly PostedLine[] => lines.slice(t.from, t.to);
  const subs = new Map<string, { number: number; body: readonly PostedLine[] }>();
  for (const repeat of new Set(times.map((t) => t.repeat))) {
    const [first, second, ...later] = times.filter((t) => t.repeat === repeat).map(bodyOf);
    const body = second ?? first;
    if (later.some((b) => !same(b, body))) return null;
    if (second) subs.set(repeat, { number: FIRST_SUB + subs.size, body });
  }
  const main: PostedLine[] = [];
  let at = 0;
  for (const t of times) {
    const sub = subs.get(t.repeat);
    const body = bodyOf(t);
    if (!sub || !same(body, sub.body)) continue;
    main.push(...lines.slice(at, t.from));
    const op = body.find((l) => l.op !== null)?.op ?? null;
    main.push({ text: `M98 P${sub.number}`, op, event: body.find((l) => l.event !== null)?.event ?? null });
    at = t.to;
  }
  main.push(...lines.slice(at, -1));
  const bare = (text: string): PostedLine => ({ text, op: null, event: null });
  for (const { number, body } of subs.values())
    main.push(bare(''), bare(`O${number}`), ...body.map((l) => ({ ...l, text: saying(l) })), bare('M99'));
  return [...main, bare('%')];
};
