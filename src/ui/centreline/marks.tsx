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

/** A vertical place in the drawing that can be dragged along Z, or moved with the arrow keys. */
export const Handle = ({
  view,
  height,
  z,
  label,
  ghost,
  before,
  onMove,
  onDone,
}: {
  view: View;
  height: number;
  z: number;
  label: string;
  ghost?: boolean;
  /** Its name stands on the side of the chuck. */
  before?: boolean;
  onMove: (z: number) => number;
  onDone: (z: number) => void;
}) => {
  const [dragged, setDragged] = useState<number | null>(null);
  const start = useRef(false);
  const at = dragged ?? z;
  const x = toScreen(view, at, 0).x;
  const top = 40;
  return (
    <g
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={Math.round(at * 100) / 100}
      style={{ cursor: 'ew-resize' }}
      onKeyDown={(e) => {
        const by = view.s * (e.shiftKey ? 1 : 0.1) * (e.key === 'ArrowRight' ? 1 : e.key === 'ArrowLeft' ? -1 : 0);
        if (by !== 0) {
          e.preventDefault();
          e.stopPropagation();
          onDone(z + by);
        }
      }}
      onPointerDown={(e) => {
        start.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
        e.stopPropagation();
      }}
      onPointerMove={(e) => {
        if (!start.current) return;
        const b = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
        if (b) setDragged(toWorld(view, e.clientX - b.left, 0).x);
      }}
      onPointerUp={() => {
        start.current = false;
        if (dragged !== null) onDone(dragged);
        setDragged(null);
      }}
    >
      <line
        x1={x}
        x2={x}
        y1={top}
        y2={height - 30}
        stroke="var(--color-woad)"
        strokeWidth={1}
        strokeDasharray="3 3"
        strokeOpacity={ghost && dragged === null ? 0.45 : 1}
      />
      <rect x={x - 14} y={top - 6} width={28} height={height} fill="transparent" />
      <rect
        x={x - 5}
        y={top - 4}
        width={10}
        height={14}
        rx={2}
        fill={ghost && dragged === null ? 'var(--color-paper)' : 'var(--color-woad)'}
        stroke="var(--color-woad)"
      />
      <text
        x={x + (before ? -9 : 9)}
        y={top + 7}
        textAnchor={before ? 'end' : 'start'}
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
