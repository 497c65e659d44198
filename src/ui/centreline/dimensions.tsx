'use client';
import { type Curve, regionBounds } from '@/core/geometry';
import { isCutting } from '@/core/operations';
import type { Part } from '@/core/part';
import type { HeldView } from '@/core/plan';
import { formatLength } from '@/core/units';
import { useDocument } from '../job/document';
import { setOperation } from '../job/edits';
import { useHolding } from '../job/holding';
import { changeBar, changeHolding } from '../job/holdings';
import { useTrack } from '../job/playback';
import { useSelection } from '../job/selection';
import { useUnit } from '../kit/units';
import { Dimension, Handle } from './marks';
import { toScreen, type View } from './view';

/** Cylinders to label: for each diameter the longest. */
const distinctDiameters = (curves: readonly Curve[]): Curve[] => {
  const best = new Map<string, Curve>();
  for (const c of curves) {
    if (c.kind !== 'line' || Math.abs(c.from.y - c.to.y) > 1e-6) continue;
    const key = c.from.y.toFixed(3);
    const known = best.get(key);
    if (!known || Math.abs(c.to.x - c.from.x) > Math.abs(known.to.x - known.from.x)) best.set(key, c);
  }
  return [...best.values()];
};

/** Length of the part, and in the Part phase its diameters. */
export const PartDimensions = ({ view, part }: { view: View; part: Part }) => {
  const phase = useSelection((s) => s.phase);
  const unit = useUnit();
  const box = regionBounds(part.region);
  return (
    <>
      <Dimension
        view={view}
        from={{ x: box.minX, y: -box.maxY }}
        to={{ x: box.maxX, y: -box.maxY }}
        offset={26}
        text={formatLength(box.maxX - box.minX, unit)}
      />
      {phase === 'part' && (
        <g pointerEvents="none" className="num" fontSize={11} fill="var(--color-ink)">
          {distinctDiameters(part.outer.map((e) => e.curve)).map((c) => {
            const m = toScreen(view, (c.from.x + c.to.x) / 2, c.from.y);
            return (
              <text
                key={`${c.from.x}${c.from.y}`}
                x={m.x}
                y={m.y - 7}
                textAnchor="middle"
                stroke="var(--color-linen)"
                strokeWidth={3}
                paintOrder="stroke"
              >
                ⌀{formatLength(c.from.y * 2, unit)}
              </text>
            );
          })}
        </g>
      )}
    </>
  );
};

/** Stick-out and grip; the jaws' front can be dragged: a bar is fed further, of a piece more is gripped. */
export const HoldDimensions = ({ view, height, held }: { view: View; height: number; held: HeldView }) => {
  const unit = useUnit();
  const holding = useHolding();
  const { stock, grip } = holding;
  const { front, jawFront, radius } = held.seat;
  const y = -Math.max(radius, held.rawStock.length > 0 ? regionBounds(held.rawStock).maxY : 0);
  const box = held.part.region.length > 0 ? regionBounds(held.part.region) : null;
  const round = (v: number): number => Math.max(1, Math.round(v * 10) / 10);
  const stickOutAt = (z: number): number => round(front - z);
  const gripAt = (z: number): number => round(z - (jawFront - grip));
  // a short grip has no room for its words beside those of the stick-out
  const narrow = grip * view.k < 70;
  const stickOut = `stick-out ${formatLength(front - jawFront, unit)}`;
  return (
    <>
      <Dimension view={view} from={{ x: jawFront, y }} to={{ x: front, y }} offset={44} text={stickOut} />
      <Dimension
        view={view}
        from={{ x: jawFront - grip, y }}
        to={{ x: jawFront, y }}
        offset={narrow ? 66 : 44}
        text={`grip ${formatLength(grip, unit)}`}
      />
      {box && (
        <Dimension
          view={view}
          from={{ x: box.minX, y }}
          to={{ x: box.maxX, y }}
          offset={20}
          text={formatLength(box.maxX - box.minX, unit)}
        />
      )}
      <Handle
        view={view}
        height={height}
        z={jawFront}
        label={stock.form === 'bar' ? stickOut : `grip ${formatLength(grip, unit)}`}
        onMove={stock.form === 'bar' ? stickOutAt : gripAt}
        onDone={(z) =>
          stock.form === 'bar'
            ? changeBar(held.id, 'drag stick-out', { stickOut: stickOutAt(z) })
            : changeHolding(held.id, 'drag grip', { grip: gripAt(z) })
        }
      />
    </>
  );
};

/** Front and back limit of the chosen operation, where it has them. */
export const LimitHandles = ({ view, height }: { view: View; height: number }) => {
  const id = useSelection((s) => s.operation);
  const op = useDocument((s) => (id === null ? undefined : s.job.operations[id]));
  const unit = useUnit();
  const timed = useTrack(id);
  if (!op || !isCutting(op) || !('frontLimit' in op.params) || !timed) return null;
  const zs = timed.flatMap(({ event: e }) =>
    (e.kind === 'feed' || e.kind === 'arc') && e.to.Z !== undefined ? [e.to.Z] : [],
  );
  if (zs.length === 0) return null;
  const handle = (name: 'back' | 'front', key: 'backLimit' | 'frontLimit', value: number | null, reached: number) => (
    <Handle
      key={key}
      view={view}
      height={height}
      z={value ?? reached}
      label={value === null ? `${name} end` : `${name} limit ${formatLength(value, unit)}`}
      ghost={value === null}
      // the two are named away from each other, or their names meet where the span is short
      before={name === 'back'}
      onMove={(z) => z}
      onDone={(z) =>
        setOperation(op.id, `drag ${name} limit`, (o) => {
          if ('params' in o) Object.assign(o.params, { [key]: Math.round(z * 20) / 20 });
        })
      }
    />
  );
  const { backLimit, frontLimit } = op.params;
  return (
    <>
      {handle('back', 'backLimit', backLimit, Math.min(...zs))}
      {handle('front', 'frontLimit', frontLimit, Math.max(...zs))}
    </>
  );
};
