'use client';
import { type Curve, regionBounds } from '@/core/geometry';
import { isCutting, kindOf } from '@/core/operations';
import type { Part } from '@/core/part';
import { dimensionNames, elementEnds, type HeldView, operationNames, withFormulas } from '@/core/plan';
import { formatLength } from '@/core/units';
import { useDocument } from '../job/document';
import { tieOperation } from '../job/edits';
import { useHeld, useHolding } from '../job/holding';
import { changeBar, changeHolding } from '../job/holdings';
import { usePath } from '../job/playback';
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

interface Place {
  readonly at: number;
  /** What a formula calls it. */
  readonly name: string;
}

/** The nearest of some places that is near enough on the screen, else the place itself on twentieths, with no name. */
const sprung = (view: View, to: number, places: readonly Place[]): { at: number; name: string | null } => {
  const near = places.reduce<Place | null>(
    (best, p) => (best === null || Math.abs(p.at - to) < Math.abs(best.at - to) - 1e-9 ? p : best),
    null,
  );
  if (near && Math.abs(near.at - to) * view.k <= SPRING)
    return { at: Math.round(near.at * 1e4) / 1e4, name: near.name };
  return { at: Math.round(to * 20) / 20, name: null };
};

/** Ends of elements that limits can be tied to: along Z, and on diameter. */
const tiesOf = (elements: Part['outer']): { z: Place[]; diameter: Place[] } => {
  const ends = elementEnds(elements);
  return {
    z: ends.map(({ at, name }) => ({ at: at.x, name })),
    diameter: ends.map(({ at, name }) => ({ at: 2 * at.y, name: `${name}_dia` })),
  };
};

/**
 * Front and back limit of the chosen operation and its limit on diameter, where it has them. Let go near the end of an
 * element a limit is tied to it, and goes with it when the part changes.
 */
export const LimitHandles = ({ view, width, height }: { view: View; width: number; height: number }) => {
  const id = useSelection((s) => s.operation);
  const listed = useDocument((s) => (id === null ? undefined : s.job.operations[id]));
  const dimensions = useDocument((s) => s.job.part.dimensions);
  const units = useDocument((s) => s.job.units);
  const unit = useUnit();
  const held = useHeld();
  const path = usePath(id);
  if (!listed || !isCutting(listed) || !('frontLimit' in listed.params) || !path) return null;
  const { op } = withFormulas(listed, operationNames(held?.part ?? null, dimensionNames(dimensions, units)), units);
  if (!('frontLimit' in op.params)) return null;
  const places = path.flatMap((e) => (e.kind === 'feed' || e.kind === 'arc' ? [e.to] : []));
  const zs = places.flatMap((p) => p.Z ?? []);
  const rs = places.flatMap((p) => p.X ?? []);
  if (zs.length === 0 || rs.length === 0) return null;
  const outside = kindOf(op).side === 'outer';
  const ties = tiesOf(held ? held.part[outside ? 'outer' : 'inner'] : []);
  const put = (name: string, key: string, { at, name: tie }: ReturnType<typeof sprung>): void =>
    tieOperation(op.id, `drag ${name}`, `params.${key}`, at, tie);
  // a step by a key leaves a place that it would else spring back onto
  const atZ = (z: number, stepped = false) => sprung(view, z, stepped ? [] : ties.z);
  const atDiameter = (r: number, stepped = false) => sprung(view, 2 * r, stepped ? [] : ties.diameter);
  const tied = (key: string): string => {
    const text = listed.formulas?.[`params.${key}`];
    return text ? ` = ${text}` : '';
  };
  const handle = (name: 'back' | 'front', key: 'backLimit' | 'frontLimit', value: number | null, reached: number) => (
    <Handle
      key={key}
      view={view}
      width={width}
      height={height}
      along="z"
      at={value ?? reached}
      label={value === null ? `${name} end` : `${name} limit ${formatLength(value, unit)}${tied(key)}`}
      ghost={value === null}
      // the two are named away from each other, or their names meet where the span is short
      before={name === 'back'}
      onMove={(z) => atZ(z).at}
      onDone={(z, stepped) => put(`${name} limit`, key, atZ(z, stepped))}
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
        label={diameterLimit === null ? 'to ⌀' : `limit ⌀${formatLength(diameterLimit, unit)}${tied('diameterLimit')}`}
        ghost={diameterLimit === null}
        onMove={(r) => atDiameter(r).at}
        onDone={(r, stepped) => put('limit ⌀', 'diameterLimit', atDiameter(r, stepped))}
      />
    </>
  );
};
