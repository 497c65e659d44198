'use client';
import { useRef, useState } from 'react';
import { toScreen, toWorld, type View } from './view';

interface Place {
  readonly x: number;
  readonly y: number;
}

/** A dimension line along Z, drawn `offset` px below its points. */
export const Dimension = ({
  view,
  from,
  to,
  offset,
  text,
}: {
  view: View;
  from: Place;
  to: Place;
  offset: number;
  text: string;
}) => {
  const [a, b] = [toScreen(view, from.x, from.y), toScreen(view, to.x, to.y)].sort((p, q) => p.x - q.x);
  const y = Math.max(a.y, b.y) + offset;
  const narrow = Math.abs(b.x - a.x) < text.length * 7 + 6;
  return (
    <g pointerEvents="none" stroke="var(--color-soft)" strokeWidth={1} className="num">
      <line x1={a.x} y1={a.y + 4} x2={a.x} y2={y + 4} />
      <line x1={b.x} y1={b.y + 4} x2={b.x} y2={y + 4} />
      <line x1={a.x} y1={y} x2={b.x} y2={y} />
      <path d={`M${a.x} ${y}l6 -3v6zM${b.x} ${y}l-6 -3v6z`} fill="var(--color-soft)" stroke="none" />
      <text
        x={narrow ? Math.max(a.x, b.x) + 6 : (a.x + b.x) / 2}
        y={y - 5}
        textAnchor={narrow ? 'start' : 'middle'}
        stroke="var(--color-linen)"
        strokeWidth={3}
        paintOrder="stroke"
        fill="var(--color-ink)"
        fontSize={11}
      >
        {text}
      </text>
    </g>
  );
};

interface HandleProps {
  readonly view: View;
  /** Size of the drawing, px. */
  readonly width: number;
  readonly height: number;
  /** Whether it is moved along Z, or away from the axis. */
  readonly along: 'z' | 'radius';
  /** Where it stands: Z, or a radius. */
  readonly at: number;
  readonly label: string;
  readonly ghost?: boolean;
  /** Its name stands on the side of the chuck. */
  readonly before?: boolean;
  /** The value at a place, for its name while it is dragged. */
  readonly onMove: (at: number) => number;
  /** `stepped`: by a key, to be taken as it is. */
  readonly onDone: (at: number, stepped?: boolean) => void;
}

/** A line in the drawing that can be dragged along Z or away from the axis, or moved with the arrow keys. */
export const Handle = ({ view, width, height, along, at, label, ghost, before, onMove, onDone }: HandleProps) => {
  const [dragged, setDragged] = useState<number | null>(null);
  const start = useRef(false);
  const place = dragged ?? at;
  const upright = along === 'z';
  const faint = ghost && dragged === null;
  const [less, more] = upright ? ['ArrowLeft', 'ArrowRight'] : ['ArrowDown', 'ArrowUp'];
  const { x, y } = upright
    ? { x: toScreen(view, place, 0).x, y: 40 }
    : { x: view.s > 0 ? width - 46 : 46, y: toScreen(view, 0, place).y };
  const end = upright ? { x, y: height - 30 } : { x: view.s > 0 ? 30 : width - 30, y };
  return (
    <g
      role="slider"
      tabIndex={0}
      // its knob shows the focus: a frame round line and name would lie over the drawing
      className="group outline-none"
      aria-label={label}
      aria-orientation={upright ? 'horizontal' : 'vertical'}
      aria-valuenow={Math.round(place * 100) / 100}
      style={{ cursor: upright ? 'ew-resize' : 'ns-resize' }}
      onKeyDown={(e) => {
        const way = e.key === more ? 1 : e.key === less ? -1 : 0;
        if (way === 0) return;
        e.preventDefault();
        e.stopPropagation();
        onDone(at + way * (upright ? view.s : 1) * (e.shiftKey ? 1 : 0.1), true);
      }}
      onPointerDown={(e) => {
        start.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
        e.stopPropagation();
      }}
      onPointerMove={(e) => {
        if (!start.current) return;
        const b = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
        if (!b) return;
        const to = toWorld(view, e.clientX - b.left, e.clientY - b.top);
        setDragged(upright ? to.x : Math.max(0, to.y));
      }}
      onPointerUp={() => {
        start.current = false;
        if (dragged !== null) onDone(dragged);
        setDragged(null);
      }}
    >
      <line
        x1={x}
        y1={y}
        x2={end.x}
        y2={end.y}
        stroke="var(--color-woad)"
        strokeWidth={1}
        strokeDasharray="3 3"
        strokeOpacity={faint ? 0.45 : 1}
      />
      {/* wide enough to be caught: all of an upright line, of a level one only its knob, since elements lie under it */}
      <rect x={x - 14} y={upright ? y - 6 : y - 12} width={28} height={upright ? height : 24} fill="transparent" />
      <rect
        x={x - 5}
        y={upright ? y - 4 : y - 7}
        width={10}
        height={14}
        rx={2}
        fill={faint ? 'var(--color-paper)' : 'var(--color-woad)'}
        stroke="var(--color-woad)"
      />
      <rect
        x={x - 8}
        y={upright ? y - 7 : y - 10}
        width={16}
        height={20}
        rx={4}
        className="fill-none stroke-ink stroke-2 opacity-0 group-focus-visible:opacity-100"
      />
      <text
        x={upright ? x + (before ? -9 : 9) : x + 7 * view.s}
        y={upright ? y + 7 : y - 11}
        textAnchor={upright ? (before ? 'end' : 'start') : view.s > 0 ? 'end' : 'start'}
        fontSize={11}
        className="num"
        fill="var(--color-woad)"
        stroke="var(--color-linen)"
        strokeWidth={3}
        paintOrder="stroke"
      >
        {dragged === null ? label : `${Math.round(onMove(dragged) * 100) / 100}`}
      </text>
    </g>
  );
};
