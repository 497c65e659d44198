'use client';
import { useMemo, useRef, useState } from 'react';
import { solveDimensions, solveProfile } from '@/core/part';
import { formatLength } from '@/core/units';
import { toScreen, toWorld, type View } from '../centreline/view';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { useUnit } from '../kit/units';
import { changeProfile, type ProfileSide, setRowValue } from './rows';

/** Screen distance within which a dragged point takes another's Z or diameter. */
const SNAP = 7;

interface Grip {
  readonly side: ProfileSide;
  readonly index: number;
  readonly id: string;
  readonly kind: 'point' | 'side';
  readonly at: { x: number; y: number };
  /** A side moves only across itself. */
  readonly free: 'both' | 'x' | 'y';
  /** Why it cannot be dragged, or null. */
  readonly locked: string | null;
}

const same = (a: Grip | null, b: Grip): boolean =>
  a !== null && a.side === b.side && a.id === b.id && a.kind === b.kind;

/** Ends of rows and straight sides to drag in the drawing; they snap to others' Z and ⌀ and to round numbers. */
export const Handles = ({ view }: { view: View }) => {
  const part = useDocument((s) => s.job.part);
  const unit = useUnit();
  const own = useDocument((s) => s.job.units);
  const chosen = useSelection((s) => s.element);
  const [drag, setDrag] = useState<{ grip: Grip; to: { x: number; y: number }; snapped: string } | null>(null);
  const start = useRef<Grip | null>(null);
  const grips = useMemo(() => {
    const { names } = solveDimensions(part.dimensions ?? [], own);
    const list: Grip[] = [];
    for (const side of ['outer', 'inner', 'back'] as const) {
      const profile = part[side];
      if (!profile) continue;
      const { pieces } = solveProfile(profile, names, own);
      pieces.forEach(({ row, curve }) => {
        const index = profile.rows.findIndex((r) => r.id === row.id);
        const original = profile.rows[index];
        const formula = Object.keys(original.formulas ?? {}).find((k) => k === 'diameter' || k === 'z');
        const derivedFrom =
          original.kind === 'line' && (original.angle != null || original.length != null)
            ? 'its angle or length'
            : original.kind === 'arc' && original.centreZ != null
              ? 'its centre'
              : null;
        const locked = formula
          ? `${formula === 'z' ? 'Z' : '⌀'} = ${original.formulas?.[formula]}`
          : derivedFrom
            ? `follows from ${derivedFrom}`
            : null;
        list.push({ side, index, id: row.id, kind: 'point', at: curve.to, free: 'both', locked });
        if (curve.kind === 'line' && chosen === row.id && index > 0) {
          const level = Math.abs(curve.to.y - curve.from.y) < 1e-6;
          const upright = Math.abs(curve.to.x - curve.from.x) < 1e-6;
          if (level || upright)
            list.push({
              side,
              index,
              id: row.id,
              kind: 'side',
              at: { x: (curve.from.x + curve.to.x) / 2, y: (curve.from.y + curve.to.y) / 2 },
              free: level ? 'y' : 'x',
              locked,
            });
        }
      });
    }
    return list;
  }, [part, chosen, own]);

  const snap = (grip: Grip, p: { x: number; y: number }): { to: { x: number; y: number }; snapped: string } => {
    const reach = SNAP / view.k;
    const step = reach > 0.6 ? 1 : reach > 0.12 ? 0.5 : 0.1;
    const round = (v: number): number => Math.round(v / step) * step;
    const others = grips.filter((g) => g.id !== grip.id && g.kind === 'point');
    const z = others.find((g) => Math.abs(g.at.x - p.x) < reach);
    const r = others.find((g) => Math.abs(g.at.y - p.y) < reach);
    const x = grip.free === 'y' ? grip.at.x : z ? z.at.x : round(p.x);
    // diameters are what is typed: they snap to round numbers
    const y = grip.free === 'x' ? grip.at.y : r ? r.at.y : Math.max(0, round(p.y * 2) / 2);
    return {
      to: { x: Math.round(x * 1e6) / 1e6, y: Math.round(y * 1e6) / 1e6 },
      snapped: [z && grip.free !== 'y' ? 'Z' : '', r && grip.free !== 'x' ? '⌀' : ''].filter(Boolean).join(' and '),
    };
  };

  const apply = (grip: Grip, to: { x: number; y: number }): void => {
    changeProfile(grip.side, grip.kind === 'side' ? 'drag side' : 'drag point', (p) => {
      const row = p.rows[grip.index];
      if (grip.free !== 'y') setRowValue(row, 'z', to.x);
      if (grip.free !== 'x') setRowValue(row, 'diameter', to.y * 2);
      if (grip.kind === 'side') {
        const before = p.rows[grip.index - 1];
        if (before && grip.free === 'x' && before.formulas?.z === undefined) setRowValue(before, 'z', to.x);
        if (before && grip.free === 'y' && before.formulas?.diameter === undefined)
          setRowValue(before, 'diameter', to.y * 2);
      }
    });
  };

  return (
    <g data-testid="handles">
      {grips.map((g) => {
        const at = toScreen(view, g.at.x, g.at.y);
        const active = chosen === g.id;
        if (!active && g.kind === 'side') return null;
        return (
          <g
            key={`${g.side}-${g.id}-${g.kind}`}
            role="button"
            tabIndex={-1}
            aria-label={`${g.kind === 'point' ? 'End' : 'Side'} of ${g.side} row ${g.index + 1}`}
            style={{
              cursor: g.locked ? 'not-allowed' : g.free === 'x' ? 'ew-resize' : g.free === 'y' ? 'ns-resize' : 'move',
            }}
            onPointerDown={(e) => {
              e.stopPropagation();
              useSelection.getState().set({ element: g.id });
              if (g.locked) return;
              e.currentTarget.setPointerCapture(e.pointerId);
              start.current = g;
            }}
            onPointerMove={(e) => {
              // a fresh list of grips is drawn while one is held
              if (!same(start.current, g)) return;
              const b = e.currentTarget.ownerSVGElement?.getBoundingClientRect();
              if (b) setDrag({ grip: g, ...snap(g, toWorld(view, e.clientX - b.left, e.clientY - b.top)) });
            }}
            onPointerUp={() => {
              start.current = null;
              if (drag) apply(drag.grip, drag.to);
              setDrag(null);
            }}
          >
            <title>{g.locked ?? 'drag, or type in the table'}</title>
            <circle cx={at.x} cy={at.y} r={9} fill="transparent" />
            {g.kind === 'point' ? (
              <rect
                x={at.x - 3}
                y={at.y - 3}
                width={6}
                height={6}
                fill={active ? 'var(--color-woad)' : 'var(--color-white)'}
                stroke={g.locked ? 'var(--color-heather)' : 'var(--color-woad)'}
                strokeWidth={1.2}
              />
            ) : (
              <path
                d={
                  g.free === 'y'
                    ? `M${at.x} ${at.y - 9}v18m-4 -14l4 -4l4 4m-8 10l4 4l4 -4`
                    : `M${at.x - 9} ${at.y}h18m-14 -4l-4 4l4 4m10 -8l4 4l-4 4`
                }
                fill="none"
                stroke="var(--color-woad)"
                strokeWidth={1.5}
              />
            )}
          </g>
        );
      })}
      {drag &&
        (() => {
          const p = toScreen(view, drag.to.x, drag.to.y);
          return (
            <g pointerEvents="none">
              <circle cx={p.x} cy={p.y} r={4} fill="var(--color-woad)" />
              <text
                x={p.x + 10}
                y={p.y - 10}
                fontSize={12}
                className="num"
                fill="var(--color-woad)"
                stroke="var(--color-linen)"
                strokeWidth={4}
                paintOrder="stroke"
              >
                ⌀{formatLength(drag.to.y * 2, unit)} Z{formatLength(drag.to.x, unit)}
                {drag.snapped ? ` (same ${drag.snapped})` : ''}
              </text>
            </g>
          );
        })()}
    </g>
  );
};
