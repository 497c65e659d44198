'use client';
import { create } from 'zustand';
import { boundsOfPoints, type Point } from '@/core/geometry';
import {
  type CuttingOperation,
  type Field,
  kindOf,
  type Sketch,
  type SketchMeasure,
  type Stroke,
} from '@/core/operations';
import type { Tool } from '@/core/tooling';
import { formatLength } from '@/core/units';

/** The field that is looked at: it has the focus, or the pointer is over it. */
const useLookedAt = create<{ readonly key: string | null }>(() => ({ key: null }));
export const lookAt = (key: string): void => {
  if (useLookedAt.getState().key !== key) useLookedAt.setState({ key });
};

const WIDTH = 288;
const HEIGHT = 104;
const ROOM = 14;

const STYLE: Readonly<Record<Stroke['as'], { fill: string; stroke: string; width: number; dash?: string }>> = {
  metal: { fill: 'var(--color-straw)', stroke: 'var(--color-straw-line)', width: 1 },
  solid: { fill: 'var(--color-straw-pale)', stroke: 'none', width: 0 },
  part: { fill: 'none', stroke: 'var(--color-ink)', width: 1.6 },
  path: { fill: 'none', stroke: 'var(--color-woad)', width: 1 },
  rapid: { fill: 'none', stroke: 'var(--color-woad)', width: 1, dash: '3 2' },
  tool: { fill: 'var(--color-insert)', stroke: 'var(--color-ink)', width: 1 },
  limit: { fill: 'none', stroke: 'var(--color-walnut)', width: 1.2, dash: '6 2 1 2' },
};
const ORDER: readonly Stroke['as'][] = ['metal', 'solid', 'tool', 'part', 'rapid', 'path', 'limit'];

/** To a micrometre: equal passes seldom come out even. */
const textOf = ({ value, unit }: SketchMeasure, units: 'mm' | 'inch'): string =>
  `${unit === 'diameter' ? '⌀' : ''}${formatLength(Math.round(value * 1000) / 1000, units)}`;

const firstDrawn = (
  fields: readonly Field[],
  draw: (f: Field) => Sketch | null,
): { readonly field: Field; readonly picture: Sketch } | null => {
  for (const field of fields) {
    const picture = draw(field);
    if (picture) return { field, picture };
  }
  return null;
};

/** A number of an operation in a drawing of its own numbers: follows the field that is looked at. */
export const Explain = ({
  op,
  fields,
  tool,
  unit,
}: {
  readonly op: CuttingOperation;
  readonly fields: readonly Field[];
  readonly tool: Tool | null;
  readonly unit: 'mm' | 'inch';
}) => {
  const key = useLookedAt((s) => s.key);
  const { sketch } = kindOf(op);
  if (!sketch) return null;
  const found = firstDrawn(
    // the field that is looked at, else the first one of which there is a drawing
    [...fields.filter((f) => f.key === key), ...fields],
    (f) => sketch(op as never, f.key, tool),
  );
  if (!found) return null;
  const { field, picture } = found;
  return (
    <figure className="sticky top-0 z-10 border-b border-hair bg-paper px-3 pb-1.5 pt-2" data-testid="explain">
      <Drawing picture={picture} unit={unit} />
      <figcaption className="line-clamp-3 min-h-[45px] text-[11px] leading-[15px] text-soft">
        <span className="font-semibold text-ink">{field.label}</span> {field.help}
      </figcaption>
    </figure>
  );
};

const Drawing = ({ picture, unit }: { readonly picture: Sketch; readonly unit: 'mm' | 'inch' }) => {
  const all = [
    ...picture.strokes.flatMap((s) => s.points),
    ...picture.measures.flatMap((m) => [m.from, m.to]),
    ...picture.words.map((w) => w.at),
  ];
  const b = boundsOfPoints(all);
  const scale = Math.min(
    (WIDTH - 4 * ROOM) / Math.max(1e-6, b.maxX - b.minX),
    (HEIGHT - 2 * ROOM) / Math.max(1e-6, b.maxY - b.minY),
  );
  const shift = { x: (WIDTH - (b.minX + b.maxX) * scale) / 2, y: (HEIGHT + (b.minY + b.maxY) * scale) / 2 };
  const x = (p: Point): number => shift.x + p.x * scale;
  const y = (p: Point): number => shift.y - p.y * scale;
  const line = (points: readonly Point[], closed = false): string =>
    `${points.map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p).toFixed(2)} ${y(p).toFixed(2)}`).join('')}${closed ? 'Z' : ''}`;
  return (
    <svg width="100%" height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
      {ORDER.flatMap((as) =>
        picture.strokes
          .filter((s) => s.as === as)
          .map((s) => {
            const d = line(s.points, s.closed);
            const k = STYLE[as];
            return (
              <path
                key={`${as}${d}`}
                d={d}
                fill={k.fill}
                stroke={k.stroke}
                strokeWidth={k.width}
                strokeDasharray={k.dash}
                strokeLinejoin="round"
              />
            );
          }),
      )}
      {picture.measures.map((m) => (
        <Measured
          key={`${m.from.x} ${m.from.y} ${m.value}`}
          from={[x(m.from), y(m.from)]}
          to={[x(m.to), y(m.to)]}
          text={textOf(m, unit)}
        />
      ))}
      {picture.words.map((w) => (
        <Words key={`${w.at.x} ${w.text}`} at={[x(w.at), y(w.at)]} text={w.text} />
      ))}
    </svg>
  );
};

/** Roughly how wide a word is, px. */
const wide = (text: string): number => text.length * 6.2;

const Words = ({ at: [x, y], text }: { readonly at: readonly [number, number]; readonly text: string }) => (
  <text
    x={Math.min(WIDTH - wide(text) / 2 - 2, Math.max(wide(text) / 2 + 2, x))}
    y={Math.min(HEIGHT - 3, Math.max(10, y + 4))}
    textAnchor="middle"
    className="num"
    fontSize={11}
    fill="var(--color-ink)"
    stroke="var(--color-paper)"
    strokeWidth={3}
    paintOrder="stroke"
  >
    {text}
  </text>
);

/** A dimension: its two ends as ticks, the value beside it. */
const Measured = ({
  from,
  to,
  text,
}: {
  readonly from: readonly [number, number];
  readonly to: readonly [number, number];
  readonly text: string;
}) => {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const size = Math.max(1e-6, Math.hypot(dx, dy));
  const [nx, ny] = [(-dy / size) * 4, (dx / size) * 4];
  const tick = ([px, py]: readonly [number, number]): string => `M${px - nx} ${py - ny}L${px + nx} ${py + ny}`;
  const level = Math.abs(dx) > Math.abs(dy);
  const middle: [number, number] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
  const place: [number, number] = level ? [middle[0], middle[1] - 9] : [middle[0] + 8 + wide(text) / 2, middle[1]];
  return (
    <>
      <path
        d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}${tick(from)}${tick(to)}`}
        stroke="var(--color-madder)"
        strokeWidth={1.6}
        fill="none"
      />
      <Words at={place} text={text} />
    </>
  );
};
