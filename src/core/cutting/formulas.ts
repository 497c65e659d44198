import { radians } from '../geometry';

/** Cutting formulas. vc m/min, diameters and depths mm, feed mm/rev, speeds rev/min, forces N, power kW, torque Nm. */

/** n = 1000·vc/(π·D). */
export const spindleSpeed = (surfaceSpeed: number, diameter: number): number =>
  (1000 * surfaceSpeed) / (Math.PI * diameter);
export const surfaceSpeedAt = (speed: number, diameter: number): number => (speed * Math.PI * diameter) / 1000;

/** Diameter below which constant surface speed runs into the clamp. */
export const clampDiameter = (surfaceSpeed: number, maxSpeed: number): number =>
  (1000 * surfaceSpeed) / (Math.PI * maxSpeed);

/**
 * Seconds to feed along a straight of length `travel` whose diameter goes from d1 to d2 at constant surface speed,
 * clamped at maxSpeed. ∫ ds / (f·n(D)), split where the clamp sets in; covers facing (travel = |d1−d2|/2), cones and
 * cylinders (d1 = d2). Diameters are taken as magnitudes; a path across the axis is split there.
 */
export const surfaceSpeedTime = (
  d1: number,
  d2: number,
  travel: number,
  feedPerRev: number,
  surfaceSpeed: number,
  maxSpeed: number,
): number => {
  if (travel <= 0) return 0;
  if (d1 * d2 < 0) {
    const share = Math.abs(d1) / (Math.abs(d1) + Math.abs(d2));
    return (
      surfaceSpeedTime(d1, 0, travel * share, feedPerRev, surfaceSpeed, maxSpeed) +
      surfaceSpeedTime(0, d2, travel * (1 - share), feedPerRev, surfaceSpeed, maxSpeed)
    );
  }
  const low = Math.min(Math.abs(d1), Math.abs(d2));
  const high = Math.max(Math.abs(d1), Math.abs(d2));
  const clamp = clampDiameter(surfaceSpeed, maxSpeed);
  const perClamped = 60 / (feedPerRev * maxSpeed);
  const free = (length: number, a: number, b: number): number =>
    (60 * length * Math.PI * (a + b)) / (2 * feedPerRev * 1000 * surfaceSpeed);
  if (high <= clamp) return travel * perClamped;
  if (low >= clamp || high === low) return free(travel, low, high);
  const clampedShare = (clamp - low) / (high - low);
  return travel * clampedShare * perClamped + free(travel * (1 - clampedShare), clamp, high);
};

export interface Load {
  readonly chip: number;
  readonly force: number;
  readonly power: number;
  readonly torque: number;
  readonly removal: number;
  readonly removalTrue: number;
}

/** Kienzle (DIN 6584): Fc = kc1.1·b·h^(1−mc) with h = f·sin κ, b = ap/sin κ. */
export const turningLoad = (p: {
  kc11: number;
  mc: number;
  depth: number;
  feed: number;
  approachAngle: number;
  surfaceSpeed: number;
  diameter: number;
}): Load => {
  const s = Math.sin(radians(p.approachAngle));
  const chip = p.feed * s;
  const force = p.kc11 * (p.depth / s) * chip ** (1 - p.mc);
  return {
    chip,
    force,
    power: (force * p.surfaceSpeed) / 60_000,
    torque: (force * p.diameter) / 2000,
    removal: p.depth * p.feed * p.surfaceSpeed,
    removalTrue: p.depth * p.feed * p.surfaceSpeed * (1 - p.depth / p.diameter),
  };
};

/** Drill: h = (f/2)·sin(σ/2), kc = kc1.1·h^(−mc); torque, power and thrust (without chisel edge). */
export const drillLoad = (p: {
  kc11: number;
  mc: number;
  diameter: number;
  feed: number;
  pointAngle: number;
  surfaceSpeed: number;
}) => {
  const s = Math.sin(radians(p.pointAngle / 2));
  const kc = p.kc11 * ((p.feed / 2) * s) ** -p.mc;
  return {
    kc,
    torque: (kc * p.feed * p.diameter ** 2) / 8000,
    power: (kc * p.feed * p.diameter * p.surfaceSpeed) / 240_000,
    thrust: 0.5 * kc * p.feed * (p.diameter / 2) * s,
  };
};

/** Theoretical roughness in µm for feeds within the nose arc: Rt = f²/(8ρ), Ra = 0.2566·Rt. */
export const roughness = (feedPerRev: number, noseRadius: number): { rt: number; ra: number } => {
  const rt = (feedPerRev ** 2 / (8 * noseRadius)) * 1000;
  return { rt, ra: 0.2566 * rt };
};

/** What a tip-programmed nose leaves (positive) or gouges (negative) on a straight at `angleDeg` to Z, mm along the normal. */
export const uncompensatedLeft = (noseRadius: number, angleDeg: number, rising: boolean): number => {
  const a = radians(Math.abs(angleDeg));
  return rising ? noseRadius * (Math.sin(a) + Math.cos(a) - 1) : -noseRadius * (1 + Math.sin(a) - Math.cos(a));
};

/** Depths of roughing passes that remove `total` with none above `most`: equal ones, or full ones with a remainder. */
export const passDepths = (total: number, most: number, style: 'equal' | 'full'): number[] => {
  if (total <= 1e-9) return [];
  const count = Math.ceil(total / most - 1e-9);
  if (style === 'equal') return Array.from({ length: count }, () => total / count);
  return Array.from({ length: count }, (_, i) => (i < count - 1 ? most : total - most * (count - 1)));
};
