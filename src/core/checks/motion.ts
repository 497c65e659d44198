import {
  boundsOfPoints,
  foldAboutAxis,
  greatestHalfThickness,
  inflateRegion,
  intersectRegions,
  overlapsMoreThan,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  rectangle,
  regionBounds,
  subtract,
  subtractRegion,
  sweepAlong,
  TOLERANCE,
} from '../geometry';
import type { Carrier, Machine, Spindle } from '../machine';
import { isMove, type MotionEvent, rapidPath } from '../motion';
import type { Finding } from '../operations';
import { cutStock, movePoints, sweptCut } from '../stock';
import type { ToolSection } from '../tooling';

export interface MotionCheckInput {
  readonly op: string;
  readonly events: readonly MotionEvent[];
  readonly section: ToolSection;
  readonly stock: Region;
  readonly part: Region;
  readonly jaws: Region;
  readonly chuck: Region;
  readonly machine: Machine;
  readonly carrier: Carrier;
  readonly spindle: Spindle;
  /** Machine coordinates of part zero along Z. */
  readonly zeroZ: number;
}

export interface MotionCheck {
  readonly findings: readonly Finding[];
  readonly stock: Region;
}

const near = (shapes: readonly RoundedPolygon[], path: readonly Point[], target: Region): boolean => {
  if (target.length === 0) return false;
  const t = regionBounds(target);
  const p = boundsOfPoints(path);
  for (const s of shapes) {
    const b = boundsOfPoints(s.points);
    const low = p.minY + b.minY - s.radius;
    const high = p.maxY + b.maxY + s.radius;
    if (
      p.minX + b.minX - s.radius < t.maxX &&
      p.maxX + b.maxX + s.radius > t.minX &&
      (low < t.maxY || -high < t.maxY) &&
      (high > t.minY || -low > t.minY)
    )
      return true;
  }
  return false;
};

const meets = (shapes: readonly RoundedPolygon[], path: readonly Point[], target: Region, thickness: number): boolean =>
  near(shapes, path, target) &&
  shapes.some(
    (s) => near([s], path, target) && overlapsMoreThan(foldAboutAxis(sweepAlong(s, path)), target, thickness),
  );

/**
 * Follows an operation through its moves and reports gouges, rapids in stock, holder or turret against stock, jaws and
 * chuck, and travel limits: one finding of a kind for each operation, at its first place. Gives the stock afterwards.
 */
export const checkMotion = (input: MotionCheckInput): MotionCheck => {
  const findings: Finding[] = [];
  const seen = new Set<string>();
  const tell = (
    code: string,
    event: number,
    at: Point,
    numbers: Finding['numbers'] = {},
    severity: Finding['severity'] = 'blocking',
  ): void => {
    if (seen.has(code)) return;
    seen.add(code);
    findings.push({ severity, code, operation: input.op, numbers, at, event });
  };
  const { section, carrier, machine } = input;
  let stock = input.stock;
  let at: Point | null = null;
  let run: { path: Point[]; event: number; last: number } | null = null;
  const shrunkPart = inflateRegion(input.part, -TOLERANCE.gouge);

  const endRun = (): void => {
    if (!run) return;
    const swept = sweptCut(section, run.path);
    if (input.part.length > 0) {
      const gouge = intersectRegions(intersectRegions(stock, swept), shrunkPart);
      if (gouge.length > 0 && greatestHalfThickness(gouge) > 1e-4) {
        const b = regionBounds(gouge);
        const depth = TOLERANCE.gouge + 2 * greatestHalfThickness(gouge);
        tell('gouge', run.event, point((b.minX + b.maxX) / 2, (b.minY + b.maxY) / 2), { depth });
      }
    }
    stock = cutStock(stock, section, run.path);
    if (meets(section.holder, run.path, stock, TOLERANCE.collision))
      tell('holder-meets-stock', run.event, run.path[run.path.length - 1]);
    for (const [name, region] of [
      ['jaws', input.jaws],
      ['chuck', input.chuck],
    ] as const) {
      if (meets([...section.cutting, ...section.holder], run.path, region, TOLERANCE.collision))
        tell(`tool-meets-${name}`, run.event, run.path[run.path.length - 1]);
      if (meets(section.turret, run.path, region, TOLERANCE.collision))
        tell(`turret-meets-${name}`, run.event, run.path[run.path.length - 1]);
    }
    if (meets(section.turret, run.path, stock, TOLERANCE.collision))
      tell('turret-meets-stock', run.event, run.path[run.path.length - 1]);
    run = null;
  };

  input.events.forEach((e, i) => {
    if (e.kind === 'tool') {
      // the old tool leaves at the change position, the new one stands at its own tip there
      endRun();
      return;
    }
    if (!isMove(e)) return;
    const tip: Point = point(e.to.Z ?? (at ? at.x + section.tip.x : 0), e.to.X ?? (at ? at.y + section.tip.y : 0));
    limits(e, tip, i);
    const target = subtract(tip, section.tip);
    const from = at ?? target;
    if (e.kind === 'rapid') {
      endRun();
      const path = [from, ...rapidPath(from, target, carrier, machine.rapidPath)];
      if (e.purpose !== 'tool-change' || i > 0) {
        if (meets(section.cutting, path, stock, TOLERANCE.touch * 3))
          tell('rapid-in-stock', i, target, { tip: tip.y * 2, z: tip.x });
        if (meets(section.holder, path, stock, TOLERANCE.collision)) tell('holder-meets-stock', i, target);
        if (meets(section.turret, path, stock, TOLERANCE.collision)) tell('turret-meets-stock', i, target);
        for (const [name, region] of [
          ['jaws', input.jaws],
          ['chuck', input.chuck],
        ] as const) {
          if (meets([...section.cutting, ...section.holder], path, region, TOLERANCE.collision))
            tell(`tool-meets-${name}`, i, target);
          if (meets(section.turret, path, region, TOLERANCE.collision)) tell(`turret-meets-${name}`, i, target);
        }
      }
    } else {
      run ??= { path: [from], event: i, last: i };
      run.path.push(...movePoints(e, from, section.tip));
      run.last = i;
    }
    at = target;
  });
  endRun();
  return { findings, stock };

  function limits(_e: MotionEvent, tip: Point, i: number): void {
    const x = carrier.axes.X;
    const z = carrier.axes.Z;
    const gx = tip.y + section.gauge.y;
    const gz = tip.x + section.gauge.x + input.zeroZ;
    if (x && (gx < x.min - 1e-6 || gx > x.max + 1e-6))
      tell('travel-x', i, tip, { position: gx, min: x.min, max: x.max, over: gx > x.max ? gx - x.max : x.min - gx });
    if (z && (gz < z.min - 1e-6 || gz > z.max + 1e-6))
      tell('travel-z', i, tip, { position: gz, min: z.min, max: z.max, over: gz > z.max ? gz - z.max : z.min - gz });
  }
};

/** Metal left on the part after all, and metal missing from it. */
export const compareWithPart = (stock: Region, part: Region): { leftover: Region; gouge: Region } => {
  if (part.length === 0) return { leftover: [], gouge: [] };
  const b = regionBounds(part);
  const around = intersectRegions(stock, rectangle(b.minX, -1, b.maxX + 1000, 10_000));
  return {
    leftover: subtractRegion(around, inflateRegion(part, TOLERANCE.gouge * 2)),
    gouge: subtractRegion(inflateRegion(part, -TOLERANCE.gouge), stock),
  };
};
