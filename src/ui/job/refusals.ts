import type { Diff } from '@/core/plan';
import type { Refusal } from './saver';

/** What a diff says at one of its own paths, as text to compare by; undefined where it says nothing. */
export const partOfDiff = (diff: Diff, path: string): string | undefined => {
  if (path in diff.updated) return `to ${JSON.stringify(diff.updated[path][1])}`;
  if (path in diff.added) return `to ${JSON.stringify(diff.added[path])}`;
  return path in diff.removed ? 'removed' : undefined;
};

/**
 * The paths of an edit that a refusal speaks of: those that lie at, above or below a place that was named. Where none of
 * them does, all of the edit is meant.
 */
export const refusedPlaces = (
  diff: Diff,
  answer: { readonly reason: string; readonly problems: readonly Refusal[] },
): { readonly path: string; readonly reason: string }[] => {
  const paths = [...Object.keys(diff.updated), ...Object.keys(diff.added), ...Object.keys(diff.removed)];
  const within = (a: string, b: string): boolean => a === b || a.startsWith(`${b}/`) || b.startsWith(`${a}/`);
  const named = paths.flatMap((path) => {
    const problem = answer.problems.find((p) => p.path !== '' && within(p.path, path));
    return problem ? [{ path, reason: problem.message.length > 8 ? problem.message : answer.reason }] : [];
  });
  return named.length > 0 ? named : paths.map((path) => ({ path, reason: answer.reason }));
};
