/** How the depth is shared among the passes. */
export interface InfeedPlan {
  /** Depth from the crest at the end, mm. */
  readonly depth: number;
  /** Depth of the first pass, mm. */
  readonly first: number;
  /** No pass takes less than this, mm. */
  readonly least: number;
  /** Left for one last pass, mm; 0 for none. */
  readonly finish: number;
  /** Equal chip area (depth grows with the root of the pass number), or equal depths. */
  readonly mode: 'equal-area' | 'fixed';
}

/** More passes than this are a mistake in a number. */
export const MOST_THREAD_PASSES = 400;

/**
 * Depth after each pass, mm, growing to the whole depth: depth_i = max(d1·√i, depth_{i−1} + least), capped at depth − finish
 * (machining.md). With `join` a last crumb goes with the pass before it. Null when it would take more passes than make sense.
 */
export const infeedDepths = (p: InfeedPlan, join = true): number[] | null => {
  const finish = p.finish > 1e-9 ? p.finish : 0;
  const rough = Math.max(0, p.depth - finish);
  const depths: number[] = [];
  let last = 0;
  while (last < rough - 1e-9) {
    if (depths.length >= MOST_THREAD_PASSES) return null;
    const i = depths.length + 1;
    const wanted = p.mode === 'equal-area' ? p.first * Math.sqrt(i) : p.first * i;
    last = Math.min(rough, Math.max(wanted, last + p.least));
    if (!(last > (depths[depths.length - 1] ?? 0))) return null;
    depths.push(last);
  }
  // a last crumb of a pass only rubs: it goes with the one before
  const [a, b] = depths.slice(-2);
  if (join && depths.length > 1 && b - a < p.least * 0.5) depths.splice(-2, 1);
  if (finish > 0) depths.push(p.depth);
  return depths;
};

/** First depth with which a number of passes of equal chip area comes to a depth: h/√n. */
export const firstDepthFor = (depth: number, passes: number): number => depth / Math.sqrt(Math.max(1, passes));

/**
 * Shift along Z of a pass at a depth, in the direction of the feed, mm: straight in none; along the flank depth·tan α; by
 * turns left and right of the middle of what is left.
 */
export const infeedShift = (
  mode: 'straight' | 'flank' | 'alternating',
  depth: number,
  whole: number,
  angle: number,
  pass: number,
): number => {
  if (mode === 'straight') return 0;
  const tan = Math.tan((angle * Math.PI) / 180);
  if (mode === 'flank') return depth * tan;
  return (whole + (pass % 2 === 0 ? -1 : 1) * (whole - depth)) * tan;
};

/** Way that a slide needs to come to its speed, mm: v²/(2a) with v = n·lead. Speed rev/min, acceleration mm/s². */
export const runInLength = (speed: number, lead: number, acceleration: number): number =>
  ((speed * lead) / 60) ** 2 / (2 * acceleration);
