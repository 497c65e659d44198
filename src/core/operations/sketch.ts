import { type Point, point } from '../geometry';
import type { Tool } from '../tooling';

/**
 * A small drawing that explains one number of an operation: made of the operation's own numbers, so that it changes with them.
 * Lengths are mm, x = Z to the right, y = away from the axis; nothing of the real part is in it.
 */
export interface Sketch {
  readonly strokes: readonly Stroke[];
  readonly measures: readonly SketchMeasure[];
  readonly words: readonly { readonly at: Point; readonly text: string }[];
}

export interface Stroke {
  /** Metal that is cut, what stays, the finished contour, the way of the tool, its rapid ways, the tool, or a limit. */
  readonly as: 'metal' | 'solid' | 'part' | 'path' | 'rapid' | 'tool' | 'limit';
  readonly points: readonly Point[];
  readonly closed?: boolean;
}

/** The number itself: a distance drawn where it is, with its value in mm. */
export interface SketchMeasure {
  readonly from: Point;
  readonly to: Point;
  readonly value: number;
  readonly unit: 'length' | 'diameter';
}

/** The drawing for a field (its key), or null where a drawing would say nothing. */
export type Sketcher<Op> = (op: Op, key: string, tool: Tool | null) => Sketch | null;

export const at = (...xy: readonly number[]): Point[] =>
  Array.from({ length: xy.length / 2 }, (_, i) => point(xy[2 * i], xy[2 * i + 1]));

export const metal = (points: readonly Point[]): Stroke => ({ as: 'metal', points, closed: true });
export const part = (points: readonly Point[]): Stroke => ({ as: 'part', points });
/** A contour with the part under it, down to a height. */
export const body = (contour: readonly Point[], base: number): Stroke[] => {
  const [first, last] = [contour[0], contour[contour.length - 1]];
  return [
    { as: 'solid', points: [...contour, point(last.x, base), point(first.x, base)], closed: true },
    part(contour),
  ];
};
export const path = (points: readonly Point[]): Stroke => ({ as: 'path', points });
export const rapid = (points: readonly Point[]): Stroke => ({ as: 'rapid', points });
export const limit = (points: readonly Point[]): Stroke => ({ as: 'limit', points });
export const toolShape = (points: readonly Point[]): Stroke => ({ as: 'tool', points, closed: true });

export const measure = (
  from: Point,
  to: Point,
  value: number,
  unit: SketchMeasure['unit'] = 'length',
): SketchMeasure => ({
  from,
  to,
  value,
  unit,
});

/** A piece of a circle as points, degrees from the x axis. */
export const bow = (x: number, y: number, radius: number, from: number, to: number): Point[] =>
  Array.from({ length: 13 }, (_, i) => {
    const a = ((from + ((to - from) * i) / 12) * Math.PI) / 180;
    return point(x + radius * Math.cos(a), y + radius * Math.sin(a));
  });

const turnedOver = (p: Point): Point => point(p.x, -p.y);

/** The drawing of an outside as a bore has it: metal beyond, the axis below. */
export const inBore = (s: Sketch | null): Sketch | null =>
  s && {
    strokes: s.strokes.map((k) => ({ ...k, points: k.points.map(turnedOver) })),
    measures: s.measures.map((m) => ({ ...m, from: turnedOver(m.from), to: turnedOver(m.to) })),
    words: s.words.map((w) => ({ ...w, at: turnedOver(w.at) })),
  };

export const sketch = (
  strokes: readonly Stroke[],
  measures: readonly SketchMeasure[] = [],
  words: Sketch['words'] = [],
): Sketch => ({ strokes, measures, words });
