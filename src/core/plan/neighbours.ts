import { type Finding, note } from '../findings';
import {
  type Bounds,
  boundsOfShapes,
  containsPoint,
  lerp,
  onceFor,
  onceForEach,
  type Point,
  point,
  type Region,
  type RoundedPolygon,
  regionBoundsOnce,
} from '../geometry';
import type { Carrier } from '../machine';
import { isMove, type MotionEvent, movesOf, sectionPoint } from '../motion';
import type { CuttingOperation } from '../operations';
import { mountList, placeName, seenAtStation } from '../tooling';
import type { Job } from './document';
import type { Held } from './held';
import { freeStations } from './placing';
import type { Resolved } from './references';

/**
 * The tools in the other stations of a turret come along when one works: each stands turned about the turret's axis by its
 * stations' angle. A point of it that lies ρ from that axis, θ from the working station, with the axis at X above the
 * spindle's, is hypot(X − ρ·cos θ, ρ·sin θ) from the spindle's axis; there it meets what turns in the spindle, or not.
 */

/** Half the thickness of a shank or a bar across the section plane, mm. */
const HALF = 12.5;
/** Steps in which ways and edges are followed, mm. */
const STEP = 3;

interface Neighbour {
  readonly name: string;
  readonly place: string;
  readonly station: string;
  /** Angle from the working station, radians. */
  readonly angle: number;
  /** Edges of its shapes: Z from its station's place, and distance from the turret's axis; made where it may meet something. */
  readonly edges: () => readonly Point[];
  readonly bounds: Bounds;
}

/** A rounded convex shape as points on its edge, close together. */
const edgeOf = ({ points, radius }: RoundedPolygon): Point[] =>
  points.flatMap((p, i) => {
    const q = points[(i + 1) % points.length];
    const n = Math.max(1, Math.ceil(Math.hypot(q.x - p.x, q.y - p.y) / STEP));
    const along = Array.from({ length: n }, (_, k) => lerp(p, q, k / n));
    if (radius <= 0) return along;
    return along.flatMap((a) =>
      Array.from({ length: 8 }, (_, k) =>
        point(a.x + radius * Math.cos((k * Math.PI) / 4), a.y + radius * Math.sin((k * Math.PI) / 4)),
      ),
    );
  });

/** Places of the station along a list of events, close together: Z and radius of the programmed tip. */
const stand = onceFor((events: readonly MotionEvent[]): readonly { readonly at: Point; readonly event: number }[] =>
  movesOf(events).flatMap((m) => {
    const [a, b] = [sectionPoint(m.from), sectionPoint(m.to)];
    const n = m.placed ? Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / STEP)) : 1;
    return Array.from({ length: n }, (_, k) => ({ at: lerp(a, b, (k + 1) / n), event: m.index }));
  }),
);

/** Extent of the programmed tip's straight and bent ways along a list of events, found without following them. */
const extentOf = onceFor((events: readonly MotionEvent[]): Bounds => {
  const b = {
    minX: Number.POSITIVE_INFINITY,
    maxX: Number.NEGATIVE_INFINITY,
    minY: Number.POSITIVE_INFINITY,
    maxY: Number.NEGATIVE_INFINITY,
  };
  for (const e of events) {
    if (!isMove(e)) continue;
    if (e.to.Z !== undefined) {
      b.minX = Math.min(b.minX, e.to.Z);
      b.maxX = Math.max(b.maxX, e.to.Z);
    }
    if (e.to.X !== undefined) {
      b.minY = Math.min(b.minY, e.to.X);
      b.maxY = Math.max(b.maxY, e.to.X);
    }
  }
  return b;
});

interface Turret {
  readonly carrier: Carrier;
  readonly radius: number;
  readonly turned: boolean;
}

/** Tools of a turret as the work in a spindle sees them, before they are turned to where they stand; found once for a job. */
const toolsOf = onceForEach(
  (job: Job, { carrier, radius, turned }: Turret) =>
    mountList({ [carrier.id]: job.mounts[carrier.id] ?? {} }).flatMap((m) => {
      const tool = job.tools[m.mount.tool];
      const number = Number(m.station);
      if (!tool || !Number.isInteger(number)) return [];
      const shapes = seenAtStation({ tool, mount: m.mount }, turned);
      if (shapes.length === 0) return [];
      const b = boundsOfShapes(shapes);
      const bounds = { ...b, minY: radius - b.maxY, maxY: radius - b.minY };
      let made: Point[] | undefined;
      const edges = (): readonly Point[] => (made ??= shapes.flatMap(edgeOf).map((p) => point(p.x, radius - p.y)));
      return [{ name: tool.name, place: placeName(job.mounts, m), station: m.station, number, edges, bounds }];
    }),
  ({ carrier, radius, turned }) => `${carrier.id} ${radius} ${turned}`,
);

/** What of a turret comes along beside a working station. */
const neighboursOf = (job: Job, turret: Turret, station: number): Neighbour[] =>
  toolsOf(job, turret).flatMap(({ number, ...t }) => {
    const angle = ((number - station) * 2 * Math.PI) / turret.carrier.stations;
    // what stands beyond a quarter of a turn lies on the other side of the turret
    return number === station || Math.cos(angle) <= 0 ? [] : [{ ...t, angle }];
  });

/** The least distance from the spindle's axis that a neighbour can come to while the turret's axis is between two heights. */
const nearest = (n: Neighbour, from: number, to: number): number => {
  const [c, s] = [Math.cos(n.angle), Math.abs(Math.sin(n.angle))];
  const low = from - n.bounds.maxY * c;
  const high = to - n.bounds.minY * c;
  const across = low <= 0 && high >= 0 ? 0 : Math.min(Math.abs(low), Math.abs(high));
  return Math.hypot(across, Math.max(0, n.bounds.minY * s - HALF));
};

/** Where a point of a neighbour is, from the spindle's axis, with the turret's axis at a height. */
export const radiusBeside = (height: number, rho: number, angle: number): number =>
  Math.hypot(height - rho * Math.cos(angle), Math.max(0, rho * Math.abs(Math.sin(angle)) - HALF));

/**
 * Tools in other stations that meet chuck, jaws or stock while an operation runs, one finding at most for each of them; none
 * where the machine does not say how far its turret's stations are from its axis.
 */
export const neighbourFindings = (
  job: Job,
  op: CuttingOperation,
  at: Resolved,
  held: Held,
  events: readonly MotionEvent[],
  stock: Region,
): Finding[] => {
  const { carrier } = at.reach;
  const radius = carrier.index.kind === 'turret' ? carrier.index.radius : null;
  // beyond the centre line the whole turret is, and nothing that stands beside it is nearer to the work than the tool
  if (radius === null || events.length === 0 || at.beyond) return [];
  const targets = [
    { what: 'the chuck', region: held.chuck },
    { what: 'the jaws', region: held.jaws },
    { what: 'the stock', region: stock },
  ].filter((t) => t.region.length > 0);
  const { gauge } = at.section;
  const range = extentOf(events);
  if (!(range.minX <= range.maxX && range.minY <= range.maxY)) return [];
  const [low, high] = [range.minY + gauge.y + radius, range.maxY + gauge.y + radius];
  const turret = { carrier, radius, turned: held.direction < 0 };
  return neighboursOf(job, turret, at.place.station).flatMap((n): Finding[] => {
    const near = nearest(n, low, high);
    for (const { what, region } of targets) {
      const b = regionBoundsOnce(region);
      const reaches = range.minX + gauge.x + n.bounds.minX < b.maxX && range.maxX + gauge.x + n.bounds.maxX > b.minX;
      if (near >= b.maxY || !reaches) continue;
      for (const { at: tip, event } of stand(events)) {
        const height = tip.y + gauge.y + radius;
        const z = tip.x + gauge.x;
        const met = n
          .edges()
          .find((e) => containsPoint(region, point(z + e.x, Math.max(1e-6, radiusBeside(height, e.y, n.angle)))));
        if (!met) continue;
        return [
          note('blocking', 'neighbour-meets', op.id, { tool: n.name, place: n.place, what }, tip, {
            event,
            ...(furtherOff(job, carrier, n, at.place.station) ?? {}),
          }),
        ];
      }
    }
    return [];
  });
};

/** A remedy: the tool in the free station that is furthest from the working one, where there is one across the turret. */
const furtherOff = (job: Job, carrier: Carrier, n: Neighbour, working: number) => {
  const own = job.mounts[carrier.id] ?? {};
  const away = (k: number): number => {
    const steps = Math.abs(k - working);
    return Math.min(steps, carrier.stations - steps);
  };
  const free = freeStations(job, carrier)
    .filter((k) => away(k) > away(Number(n.station)))
    .sort((a, b) => away(b) - away(a) || a - b)[0];
  if (free === undefined) return null;
  const { [n.station]: block, ...rest } = own;
  const moved = { ...rest, [String(free)]: block };
  return { remedy: { label: `Move it to station ${free}`, set: { [`/mounts/${carrier.id}`]: moved } } };
};
