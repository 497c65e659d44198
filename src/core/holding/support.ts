import { intersectRegions, point, type Region, rectangle, regionBounds } from '../geometry';

/** Supports of the work: a live centre at its front, and rollers around it. Places are a holding's, mm. */

/** A live centre: a slim point of 60°, then its body, then the quill behind. Diameters and lengths, mm. */
export interface CentreShape {
  readonly point: number;
  /** Length of the slim nose behind the point. */
  readonly nose: number;
  readonly body: { readonly diameter: number; readonly length: number };
  readonly quill: { readonly diameter: number; readonly length: number };
}

/** A rest with rollers: how wide they are, and how far its arms reach out. */
export interface RestShape {
  readonly width: number;
  readonly diameter: number;
}

/** Half the angle of a centre's point. */
const TAN = Math.tan(Math.PI / 6);
/** A point that touches nearer to the axis than this has no hole to stand in. */
const LEAST_CONTACT = 0.3;

export interface CentreSeat {
  /** Place of the tip of the point along Z. */
  readonly apex: number;
  /** Where the point's flank touches the work. */
  readonly z: number;
  readonly radius: number;
  /** The work has a hole that takes the point. */
  readonly hole: boolean;
}

/** Where a centre that comes from the front along the axis comes to stand against the work; null without work. */
export const centreSeat = (work: Region, shape: CentreShape): CentreSeat | null => {
  const most = shape.point / 2;
  const near = intersectRegions(work, rectangle(-1e5, -1, 1e5, most));
  let apex = Number.NEGATIVE_INFINITY;
  let at = point(0, 0);
  for (const ring of near)
    for (const p of ring) {
      const a = p.x - Math.max(0, p.y) / TAN;
      // along a cone of 60° it touches everywhere: its outermost place counts
      if (a < apex - 1e-3 || (a < apex + 1e-3 && p.y <= at.y)) continue;
      apex = Math.max(a, apex);
      at = p;
    }
  if (!Number.isFinite(apex)) return null;
  return { apex, z: at.x, radius: at.y, hole: at.y > LEAST_CONTACT && at.y < most - 1e-3 };
};

/** Section of a centre whose tip stands at a place: the upper half. */
export const centreRegion = (apex: number, { point: d, nose, body, quill }: CentreShape): Region => {
  const cone = apex + d / 2 / TAN;
  const end = cone + nose + body.length;
  return [
    [
      point(apex, 0),
      point(end + quill.length, 0),
      point(end + quill.length, quill.diameter / 2),
      point(end, quill.diameter / 2),
      point(end, body.diameter / 2),
      point(cone + nose, body.diameter / 2),
      point(cone + nose, d / 2),
      point(cone, d / 2),
    ],
  ];
};

export interface RestSeat {
  /** Greatest and least radius of the work under the rollers; 0 where there is none. */
  readonly radius: number;
  readonly least: number;
}

/** What the rollers of a rest at Z run on. */
export const restSeat = (work: Region, z: number, { width }: RestShape): RestSeat => {
  const radiusIn = (from: number, to: number): number => {
    const slice = intersectRegions(work, rectangle(from, 0, to, 1e4));
    return slice.length === 0 ? 0 : regionBounds(slice).maxY;
  };
  const step = width / 8;
  const all = Array.from({ length: 8 }, (_, i) => radiusIn(z - width / 2 + i * step, z - width / 2 + (i + 1) * step));
  return { radius: Math.max(...all), least: Math.min(...all) };
};

/** Section of a rest around the work: the upper half. */
export const restRegion = (z: number, radius: number, { width, diameter }: RestShape): Region =>
  rectangle(z - width / 2, radius, z + width / 2, Math.max(radius + 1, diameter / 2));
