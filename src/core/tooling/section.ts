import {
  add,
  convexHull,
  counterClockwise,
  fromAngle,
  type Point,
  point,
  type RoundedPolygon,
  radians,
  scale,
} from '../geometry';
import { decodeInsert, type InsertGeometry } from './insert';
import type { BoringTool, CutoffTool, DrillTool, Tool, TurningTool } from './tool';

/** Tip numbers 0–9: where the programmed tip lies from the nose centre, in nose radii (z, r). */
export const TIP_DIRECTION: readonly Point[] = [
  point(0, 0),
  point(1, 1),
  point(-1, 1),
  point(-1, -1),
  point(1, -1),
  point(1, 0),
  point(0, 1),
  point(-1, 0),
  point(0, -1),
  point(0, 0),
];

/**
 * A tool cut through the plane of the axis, in part orientation (x = Z, y = distance from axis), with the nose centre
 * (drills: the point; blades: centre of the corner toward the chuck) at the origin.
 */
export interface ToolSection {
  readonly cutting: readonly RoundedPolygon[];
  readonly holder: readonly RoundedPolygon[];
  readonly turret: readonly RoundedPolygon[];
  readonly noseRadius: number;
  /** Points that a program may name: tip number and place from the origin. The first is the one that is used. */
  readonly corners: readonly { readonly number: number; readonly at: Point }[];
  readonly tipNumber: number;
  /** Programmed tip relative to the origin. */
  readonly tip: Point;
  /** Turret reference (gauge point) relative to the programmed tip. */
  readonly gauge: Point;
  /** Way of the feed that the edge is made for: along Z toward the chuck or away from it. */
  readonly feeds: 'toward-chuck' | 'from-chuck' | 'both';
  /** Direction in which the spindle has to turn, from hand and way up. */
  readonly spindle: 'forward' | 'reverse';
}

export type SectionResult =
  | { readonly ok: true; readonly section: ToolSection }
  | { readonly ok: false; readonly code: string; readonly found: string };

const TURRET = { halfThickness: 34, depth: 150, below: 26 } as const;

const sharp = (points: readonly Point[]): RoundedPolygon => ({ points: counterClockwise(points), radius: 0 });
const box = (minX: number, minY: number, maxX: number, maxY: number): RoundedPolygon =>
  sharp([point(minX, minY), point(maxX, minY), point(maxX, maxY), point(minX, maxY)]);
const mapShape = (s: RoundedPolygon, map: (p: Point) => Point): RoundedPolygon => ({
  points: counterClockwise(s.points.map(map)),
  radius: s.radius,
});

/** Insert of an outside right-hand tool: edges leave the nose at 180°−κ (leading) and κ′ (trailing) from +Z. */
const insertShape = (insert: InsertGeometry, approachAngle: number): RoundedPolygon => {
  if (insert.shape === 'R') return { points: [point(0, 0)], radius: insert.noseRadius };
  const leading = fromAngle(radians(180 - approachAngle));
  const trailing = fromAngle(radians(180 - approachAngle - insert.cornerAngle));
  const half = radians(insert.cornerAngle / 2);
  const rho = insert.noseRadius;
  if (insert.shape === 'T') {
    const side = insert.edgeLength - (2 * rho) / Math.tan(half);
    return { points: counterClockwise([point(0, 0), scale(leading, side), scale(trailing, side)]), radius: rho };
  }
  if (insert.shape === 'W') {
    // three 80° corners: the two edges at the nose, then the far side closed by the trigon's other corners
    const side = Math.max(rho, insert.edgeLength - rho / Math.tan(half));
    const middle = fromAngle(radians(180 - approachAngle - insert.cornerAngle / 2));
    const a = scale(leading, side);
    const b = scale(trailing, side);
    const across = side * 1.35;
    return {
      points: convexHull([
        point(0, 0),
        a,
        b,
        add(a, scale(middle, across * 0.72)),
        add(b, scale(middle, across * 0.72)),
      ]),
      radius: rho,
    };
  }
  const side = insert.edgeLength - rho / Math.tan(half) - rho * Math.tan(half);
  const a = scale(leading, side);
  const b = scale(trailing, side);
  return { points: counterClockwise([point(0, 0), a, add(a, b), b]), radius: rho };
};

const turning = (tool: TurningTool, insert: InsertGeometry): ToolSection => {
  const body = insertShape(insert, tool.approachAngle);
  const rho = insert.noseRadius;
  const round = insert.shape === 'R';
  const trailingDeg = round ? 35 : Math.max(0, 180 - tool.approachAngle - insert.cornerAngle);
  // the shank stays inside the insert's own wedge so that insert edges touch first
  const leftAt = (y: number): number =>
    round ? -insert.noseRadius * 0.4 : Math.max(0.8, y * Math.tan(radians(tool.approachAngle - 90)) + 0.8);
  const shankBottom = (x: number): number => x * Math.tan(radians(trailingDeg)) + 1.5;
  let overhang = tool.overhang;
  let left = leftAt(overhang);
  const bottom = Math.max(insert.edgeLength * 0.9, shankBottom(left + tool.shank));
  overhang = Math.max(overhang, bottom + 6);
  left = leftAt(overhang);
  const inner = body.points.map((p) =>
    add(
      scale(p, round ? 1 : 0.82),
      fromAngle(radians(180 - tool.approachAngle - insert.cornerAngle / 2), round ? 0 : insert.edgeLength * 0.12),
    ),
  );
  const roundHead = [
    point(-insert.noseRadius * 0.4, insert.noseRadius * 0.6),
    point(insert.noseRadius * 0.4, insert.noseRadius * 0.6),
  ];
  const head = sharp(
    convexHull([
      ...(round ? roundHead : inner),
      point(left, bottom),
      point(left + tool.shank, bottom),
      point(left, bottom + 1),
      point(left + tool.shank, bottom + 1),
    ]),
  );
  const shank = box(left, bottom, left + tool.shank, overhang + 4);
  // a left hand mirrors the tool along Z, and so does turning it over about its shank; only the latter turns the rake over
  const mirrored = (tool.hand === 'left') !== (tool.wayUp === 'turned');
  const flip = (p: Point): Point => (mirrored ? point(-p.x, p.y) : p);
  // the turret itself is not mirrored: it stands 12 mm beyond the shank's side toward the chuck
  const side = (mirrored ? -left - tool.shank : left) - 12;
  const turret = box(side, overhang, side + 2 * TURRET.halfThickness, overhang + TURRET.depth);
  const tipNumber = round ? 0 : mirrored ? 4 : 3;
  const tip = scale(TIP_DIRECTION[tipNumber], rho);
  return {
    cutting: [mapShape(body, flip)],
    holder: [mapShape(head, flip), mapShape(shank, flip)],
    turret: [turret],
    noseRadius: rho,
    corners: [{ number: tipNumber, at: tip }],
    tipNumber,
    tip,
    gauge: point(0, overhang - tip.y),
    feeds: round ? 'both' : mirrored ? 'from-chuck' : 'toward-chuck',
    spindle: tool.wayUp === 'turned' ? 'reverse' : 'forward',
  };
};

const boring = (tool: BoringTool, insert: InsertGeometry): ToolSection => {
  const down = (p: Point): Point => point(p.x, -p.y);
  const body = mapShape(insertShape(insert, tool.approachAngle), down);
  const rho = insert.noseRadius;
  const axis = rho - tool.noseToAxis;
  const r = tool.barDiameter / 2;
  const start = Math.max(0.6, Math.tan(radians(Math.max(0, tool.approachAngle - 90))) * (r - axis) + 0.6);
  const bar = box(start, axis - r, tool.overhang + 2, axis + r);
  const turret = box(
    tool.overhang,
    axis - TURRET.below,
    tool.overhang + 2 * TURRET.halfThickness,
    axis - TURRET.below + TURRET.depth,
  );
  // a left-hand bar cuts the same section with its rake on the other side: only the spindle turns the other way
  const tipNumber = 2;
  const tip = scale(TIP_DIRECTION[tipNumber], rho);
  return {
    cutting: [body],
    holder: [bar],
    turret: [turret],
    noseRadius: rho,
    corners: [{ number: tipNumber, at: tip }],
    tipNumber,
    tip,
    gauge: point(tool.overhang - tip.x, axis - tip.y),
    feeds: 'toward-chuck',
    spindle: tool.hand === 'left' ? 'reverse' : 'forward',
  };
};

/** Height of a drill's point, mm: (D/2)/tan(σ/2). */
export const drillPointLength = (diameter: number, pointAngle: number): number =>
  diameter / 2 / Math.tan(radians(pointAngle / 2));

const drill = (tool: DrillTool): ToolSection => {
  const r = tool.diameter / 2;
  const h = drillPointLength(tool.diameter, tool.pointAngle);
  const cutting = sharp([
    point(0, 0),
    point(h, -r),
    point(tool.fluteLength, -r),
    point(tool.fluteLength, r),
    point(h, r),
  ]);
  const grip = Math.max(r + 6, 10);
  const parts: RoundedPolygon[] = [];
  if (tool.overhang > tool.fluteLength) parts.push(box(tool.fluteLength, -r, tool.overhang, r));
  parts.push(box(tool.overhang, -grip, tool.overhang + 30, grip));
  const turret = box(
    tool.overhang + 30,
    -TURRET.below,
    tool.overhang + 30 + 2 * TURRET.halfThickness,
    TURRET.depth - TURRET.below,
  );
  return {
    cutting: [cutting],
    holder: parts,
    turret: [turret],
    noseRadius: 0,
    corners: [{ number: 7, at: point(0, 0) }],
    tipNumber: 7,
    tip: point(0, 0),
    gauge: point(tool.overhang + 30, 0),
    feeds: 'toward-chuck',
    spindle: 'forward',
  };
};

const cutoff = (tool: CutoffTool): ToolSection => {
  const rho = Math.min(tool.cornerRadius, tool.width / 2);
  const w = tool.width - 2 * rho;
  const rise = w * Math.tan(radians(tool.leadAngle));
  const edge: RoundedPolygon = {
    points: convexHull([point(0, rise), point(w, 0), point(0, tool.reach), point(w, tool.reach)]),
    radius: rho,
  };
  const overhang = Math.max(tool.overhang, tool.reach + 8);
  const block = box(
    -rho - (tool.shank - tool.width) * 0.15,
    tool.reach,
    w + rho + (tool.shank - tool.width) * 0.85,
    overhang + 4,
  );
  const turret = box(-12, overhang, -12 + 2 * TURRET.halfThickness, overhang + TURRET.depth);
  const tip = scale(TIP_DIRECTION[3], rho);
  return {
    cutting: [edge],
    holder: [block],
    turret: [turret],
    noseRadius: rho,
    corners: [
      { number: 3, at: tip },
      { number: 4, at: point(w + rho, -rho) },
    ],
    tipNumber: 3,
    tip,
    gauge: point(0, overhang - tip.y),
    feeds: 'both',
    spindle: tool.wayUp === 'turned' ? 'reverse' : 'forward',
  };
};

/** Section of any tool from its numbers; a designation that cannot be read is reported with the letter at fault. */
export const toolSection = (tool: Tool): SectionResult => {
  switch (tool.kind) {
    case 'turning':
    case 'boring': {
      const decoded = decodeInsert(tool.insert);
      if (!decoded.ok) return { ok: false, code: decoded.code, found: decoded.found };
      return {
        ok: true,
        section: tool.kind === 'turning' ? turning(tool, decoded.insert) : boring(tool, decoded.insert),
      };
    }
    case 'drill':
      return { ok: true, section: drill(tool) };
    case 'cutoff':
      return { ok: true, section: cutoff(tool) };
    default:
      return tool satisfies never;
  }
};
