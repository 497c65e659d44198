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

/** Feed at which a nose leaves a roughness Ra in µm: the other way round, f = √(8ρ·Rt). */
export const feedForRoughness = (ra: number, noseRadius: number): number =>
  Math.sqrt((8 * noseRadius * ra) / (0.2566 * 1000));

/** What a tip-programmed nose leaves (positive) or gouges (negative) on a straight at `angleDeg` to Z, mm along the normal. */
export const uncompensatedLeft = (noseRadius: number, angleDeg: number, rising: boolean): number => {
  const a = radians(Math.abs(angleDeg));
  return rising ? noseRadius * (Math.sin(a) + Math.cos(a) - 1) : -noseRadius * (1 + Math.sin(a) - Math.cos(a));
};

/** How the depth is shared among passes: evenly, full ones with a remainder, or less and less. */
export type PassStyle = 'equal' | 'full' | 'falling';

/** Depth of the last of falling passes, as a share of the first. */
const LAST_OF_FALLING = 0.5;

/**
 * Depths of roughing passes that remove `total` with none above `most`. A remainder thinner than `least` (a nose radius: what is
 * less only rubs) is shared with the pass before it.
 */
export const passDepths = (total: number, most: number, style: PassStyle, least = 0): number[] => {
  if (total <= 1e-9) return [];
  const passes = (count: number, depth: (i: number) => number): number[] =>
    Array.from({ length: count }, (_, i) => depth(i));
  if (style === 'falling') {
    const mean = (1 + LAST_OF_FALLING) / 2;
    const n = Math.max(1, Math.ceil(total / (mean * most) - 1e-9));
    if (n === 1) return [total];
    const weights = passes(n, (i) => 1 - ((1 - LAST_OF_FALLING) * i) / (n - 1));
    return weights.map((w) => (w * total) / (mean * n));
  }
  const count = Math.ceil(total / most - 1e-9);
  if (style === 'equal') return passes(count, () => total / count);
  const rest = total - most * (count - 1);
  if (count > 1 && rest < least) return passes(count, (i) => (i < count - 2 ? most : (most + rest) / 2));
  return passes(count, (i) => (i < count - 1 ? most : rest));
};

/** Modulus of elasticity of a material, N/mm² (machining.md), by its group and density (g/cm³). */
export const elasticityOf = (material: { readonly group: string; readonly density: number }): number => {
  // light non-metals bend far more than the light metals
  if (material.group === 'N') return material.density > 5 ? 100_000 : material.density > 1.9 ? 70_000 : 8_000;
  return { P: 210_000, M: 200_000, K: 110_000, S: 110_000, H: 210_000 }[material.group] ?? 200_000;
};

/** Second moment of area of a round section, mm⁴. */
export const roundInertia = (outer: number, inner = 0): number => (Math.PI * (outer ** 4 - inner ** 4)) / 64;

/** How far the end of a bar held at one end bends, mm: F·L³/(3EI). */
export const bendFree = (force: number, length: number, elasticity: number, inertia: number): number =>
  (force * length ** 3) / (3 * elasticity * inertia);

/** The same between chuck and tailstock, with the tool at `a` from the chuck: F·a³(L−a)²(4L−a)/(12EIL³). */
export const bendSupported = (force: number, length: number, a: number, elasticity: number, inertia: number): number =>
  (force * a ** 3 * (length - a) ** 2 * (4 * length - a)) / (12 * elasticity * inertia * length ** 3);

/**
 * How far a bar clamped at 0 bends at `a` under a force there, held at `supports` as well, mm. The supports' forces follow from
 * their places staying still; each part of the bending is that of a cantilever, F·b²(3a−b)/(6EI) for b ≤ a.
 */
export const bendWith = (
  force: number,
  a: number,
  supports: readonly number[],
  elasticity: number,
  inertia: number,
): number => {
  const way = (p: number, q: number): number => {
    const [near, far] = p < q ? [p, q] : [q, p];
    return (near ** 2 * (3 * far - near)) / (6 * elasticity * inertia);
  };
  // Gauss with pivots over the supports' own equations
  const n = supports.length;
  const rows = supports.map((s) => [...supports.map((t) => way(s, t)), force * way(s, a)]);
  for (let i = 0; i < n; i++) {
    const best = rows.slice(i).reduce((m, r, k) => (Math.abs(r[i]) > Math.abs(rows[m][i]) ? i + k : m), i);
    [rows[i], rows[best]] = [rows[best], rows[i]];
    if (Math.abs(rows[i][i]) < 1e-18) return 0;
    for (let k = i + 1; k < n; k++) {
      const share = rows[k][i] / rows[i][i];
      for (let c = i; c <= n; c++) rows[k][c] -= share * rows[i][c];
    }
  }
  const held = new Array<number>(n).fill(0);
  for (let i = n - 1; i >= 0; i--) {
    let rest = rows[i][n];
    for (let c = i + 1; c < n; c++) rest -= rows[i][c] * held[c];
    held[i] = rest / rows[i][i];
  }
  return Math.abs(force * way(a, a) - supports.reduce((s, at, i) => s + held[i] * way(at, a), 0));
};

/** Share of the cutting force that pushes the tool away from the work. */
export const PASSIVE_SHARE = 0.4;
