'use client';
import { type Curve, regionBounds } from '@/core/geometry';
import { isCutting, kindOf } from '@/core/operations';
import type { Part } from '@/core/part';
import type { HeldView } from '@/core/plan';
import { formatLength } from '@/core/units';
import { useDocument } from '../job/document';
import { setOperation } from '../job/edits';
import { useHeld, useHolding } from '../job/holding';
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
export const HoldDimensions = ({
  view,
  width,
  height,
  held,
}: {
  view: View;
  width: number;
  height: number;
  held: HeldView;
}) => {
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
        width={width}
        height={height}
        along="z"
        at={jawFront}
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

/** How near to an element's end a limit springs onto it, px. */
const SPRING = 6;

/** The nearest of some places that is near enough on the screen, else the place itself on twentieths. */
const sprung = (view: View, to: number, places: readonly number[]): number => {
  const near = places.reduce(
    (best, p) => (Math.abs(p - to) < Math.abs(best - to) ? p : best),
    Number.POSITIVE_INFINITY,
  );
  const free = Math.round(to * 20) / 20;
  return Math.abs(near - to) * view.k <= SPRING ? Math.round(near * 1e4) / 1e4 : free;
};

/** Front and back limit of the chosen operation and its limit on diameter, where it has them; they spring onto ends of elements. */
export const LimitHandles = ({ view, width, height }: { view: View; width: number; height: number }) => {
  const id = useSelection((s) => s.operation);
  const op = useDocument((s) => (id === null ? undefined : s.job.operations[id]));
  const unit = useUnit();
  const held = useHeld();
  const timed = useTrack(id);
  if (!op || !isCutting(op) || !('frontLimit' in op.params) || !timed) return null;
  const places = timed.flatMap(({ event: e }) => (e.kind === 'feed' || e.kind === 'arc' ? [e.to] : []));
  const zs = places.flatMap((p) => p.Z ?? []);
  const rs = places.flatMap((p) => p.X ?? []);
  if (zs.length === 0 || rs.length === 0) return null;
  const outside = kindOf(op).side === 'outer';
  const ends = (held ? held.part[outside ? 'outer' : 'inner'] : []).flatMap((e) => [e.curve.from, e.curve.to]);
  const put = (name: string, key: string, value: number): void =>
    setOperation(op.id, `drag ${name}`, (o) => {
      if ('params' in o) Object.assign(o.params, { [key]: value });
    });
  const atZ = (z: number): number =>
    sprung(
      view,
      z,
      ends.map((p) => p.x),
    );
  const atRadius = (r: number): number =>
    sprung(
      view,
      r,
      ends.map((p) => p.y),
    );
  const handle = (name: 'back' | 'front', key: 'backLimit' | 'frontLimit', value: number | null, reached: number) => (
    <Handle
      key={key}
      view={view}
      width={width}
      height={height}
      along="z"
      at={value ?? reached}
      label={value === null ? `${name} end` : `${name} limit ${formatLength(value, unit)}`}
      ghost={value === null}
      // the two are named away from each other, or their names meet where the span is short
      before={name === 'back'}
      onMove={atZ}
      onDone={(z) => put(`${name} limit`, key, atZ(z))}
    />
  );
  const { backLimit, frontLimit, diameterLimit } = op.params;
  const reached = outside ? Math.min(...rs) : Math.max(...rs);
  return (
    <>
      {handle('back', 'backLimit', backLimit, Math.min(...zs))}
      {handle('front', 'frontLimit', frontLimit, Math.max(...zs))}
      <Handle
        view={view}
        width={width}
        height={height}
        along="radius"
        at={diameterLimit === null ? reached : diameterLimit / 2}
        label={diameterLimit === null ? 'to ⌀' : `limit ⌀${formatLength(diameterLimit, unit)}`}
        ghost={diameterLimit === null}
        onMove={(r) => 2 * atRadius(r)}
        onDone={(r) => put('limit ⌀', 'diameterLimit', 2 * atRadius(r))}
      />
    </>
  );
};
