import { boundsOfCurves, type Curve, onceFor, onceForEach, type Region, Surface, throughLips } from '../geometry';
import { type Element, elementsBetween, type Part } from '../part';
import { type Tool, type ToolSection, toolFacts } from '../tooling';
import { boundaryBehind, seenFromBehind, shaftBehind, slotBehind, wallOf } from './behind';
import { FRAMES, type Frame, OUTER, regionInto, surfaceOf } from './frame';
import type { AnyKind, CuttingOperation } from './registry';
import type { Contour, Place, Seen } from './types';

/** What stands around an operation when its turn comes. */
export interface Surroundings {
  readonly part: Part;
  readonly metal: Region;
  readonly fixtures: Region;
  readonly section: ToolSection;
  readonly tool: Tool;
  readonly place: Place;
  readonly cutoffWidth: number;
  /** Ra asked for on elements, µm. */
  readonly roughness: ReadonlyMap<string, number>;
  readonly cycleContours: readonly string[];
}

/** How far from its span a turning tool can touch anything, mm: its section from end to end. */
const reachOf = onceFor(
  (section: ToolSection): number =>
    Math.max(...[...section.cutting, ...section.holder].flatMap((s) => s.points.map((p) => Math.abs(p.x) + s.radius))) +
    12,
);

const extent = onceFor((elements: readonly Element[]): { min: number; max: number } => {
  const b = boundsOfCurves(elements.map((e) => e.curve));
  return { min: b.minX, max: b.maxX };
});

const spanOf = (elements: readonly Element[], span: CuttingOperation['span']): readonly Element[] | null =>
  elements.length === 0 ? null : elementsBetween(elements, span);

const within = (curves: readonly Curve[], min: number, max: number): Curve[] =>
  curves.filter((c) => Math.max(c.from.x, c.to.x) >= min && Math.min(c.from.x, c.to.x) <= max);

/** A leaning edge leaves lips up to this wide at the end of a cut, mm: they are not taken for metal in the way. */
const LIP = 0.8;

/** The same as seen through lips, and the lips. */
const seenThroughLips = onceForEach(
  (region: Region, frame: Frame) => throughLips(regionInto(frame, region), LIP),
  (frame) => frame.name,
);

/** Z of a part's front and of its back. */
export const endsOfPart = onceFor((part: Part): { readonly front: number; readonly back: number } => {
  const all = [...part.outer, ...part.inner, ...part.back];
  const e = all.length > 0 ? extent(all) : { min: 0, max: 0 };
  return { front: e.max, back: e.min };
});

/** The contour of which an operation sees only the ends. */
const emptyContour = onceFor(
  (part: Part): Contour => ({ boundary: [], span: null, alike: [], present: false, ...endsOfPart(part) }),
);

const itself = (x: number): number => x;
/** The part of a surface at or to one side of a place, made once for each. */
const fromPlace = onceForEach((s: Surface, x: number) => s.from(x), itself);
const upToPlace = onceForEach((s: Surface, x: number) => s.upTo(x), itself);

interface Looked {
  readonly side: string;
  readonly span: readonly Element[];
  readonly alike: readonly (readonly Element[])[];
  /** How far back the tool reaches. */
  readonly min: number;
}

/** The contour of a part as an operation sees it. */
const contourOf = onceForEach(
  (part: Part, { span, alike, min }: Looked): Contour => {
    const bare = emptyContour(part);
    const boundary = within(part.boundary, min, Number.POSITIVE_INFINITY);
    return { boundary, span, alike, present: true, front: bare.front, back: bare.back };
  },
  ({ side, span, alike, min }) =>
    JSON.stringify([side, ...[span, ...alike].map((s) => [s[0]?.id, s[s.length - 1]?.id]), min]),
);

/** What is asked of the elements of a span. */
const askedOf = (roughness: ReadonlyMap<string, number>, span: readonly Element[]): Record<string, number> =>
  Object.fromEntries(span.flatMap((e) => (roughness.has(e.id) ? [[e.id, roughness.get(e.id) as number]] : [])));

/** A blade goes a little further than the wall of the hole, mm. */
const SPARE = 0.5;
/** So far behind a part, at the most, its bore has to be open for a blade to come out into it, mm. */
const OPEN = 0.5;

/** Least distance from the axis of metal at a place along it; 0 for solid. */
const boreAt = (metal: Region, z: number): number => {
  let low = Number.POSITIVE_INFINITY;
  for (const ring of metal)
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      const a = ring[j];
      const b = ring[i];
      if (Math.min(a.x, b.x) > z || Math.max(a.x, b.x) < z || Math.abs(a.x - b.x) < 1e-12) continue;
      low = Math.min(low, a.y + ((b.y - a.y) * (z - a.x)) / (b.x - a.x));
    }
  return Number.isFinite(low) ? Math.max(0, low) : 0;
};

/**
 * Radius of the hole into which a blade comes out behind a part, 0 for none: where the middle of the blade is, so that nothing
 * stays on the bar; where it is not long enough for that, just behind the part, which comes off by that.
 */
const boreBehind = ({ metal, tool, section }: Surroundings, back: number): number => {
  const { bladeWidth, blade } = toolFacts(tool);
  const middle = boreAt(metal, back - bladeWidth / 2);
  // what stands beside the blade stops its holder too
  const sides = section.holder.flatMap((h) => h.points.map((p) => p.x));
  const [from, to] = [Math.min(0, ...sides), Math.max(bladeWidth, ...sides)].map((x) => back - bladeWidth + x);
  const top = Math.max(0, surfaceOf(metal, OUTER).top(from, to));
  const near = boreAt(metal, back - Math.min(bladeWidth / 2, OPEN));
  return blade && near > middle && top - middle > blade.reach - SPARE ? near : middle;
};

/** Radius at the end of a span toward the chuck. */
const shaftOf = (span: readonly Element[]): number =>
  span.flatMap(({ curve: c }) => [c.from, c.to]).reduce((a, b) => (b.x < a.x ? b : a)).y;

/** What is seen of a face from behind: nothing where there is no slot to look from. */
const behindFace = (
  at: Surroundings,
  span: readonly Element[] | null,
  frame: Frame,
): Pick<Seen, 'contour' | 'metal' | 'lips' | 'fixtures' | 'slot'> => {
  const bare = emptyContour(at.part);
  const face = span && extent(span).max;
  const slot =
    span === null || face === null
      ? null
      : frame.slanted
        ? shaftBehind(at.metal, extent(span).min, shaftOf(span))
        : slotBehind(at.metal, face, Math.max(...span.flatMap(({ curve: c }) => [c.from.y, c.to.y])));
  if (!span || !slot)
    return {
      contour: { ...bare, span, present: true },
      metal: Surface.empty(),
      lips: null,
      fixtures: null,
      slot: null,
    };
  const boundary = boundaryBehind(at.part.boundary, { wall: slot.wall, part: at.part.region });
  const { top, lips } = seenFromBehind(at.metal, { wall: slot.wall, lip: LIP, frame });
  return {
    contour: { ...bare, boundary, span, present: true },
    metal: top,
    lips: lips.isEmpty ? null : lips,
    fixtures: null,
    slot: { wall: wallOf(at.metal, { wall: slot.wall, fixtures: at.fixtures }), floor: slot.floor },
  };
};

/**
 * What an operation may look at. A turning operation sees the contour and the metal from as far behind its span as its tool
 * can touch, up to the front (it comes in from there); it sees nothing of what lies further toward the chuck.
 */
export const see = (kind: AnyKind, op: CuttingOperation, at: Surroundings): Seen => {
  const frame = kind.frame(at.section, op);
  const { part } = at;
  const bare = emptyContour(part);
  const elements = kind.side === 'inner' ? part.inner : part.outer;
  const common = {
    frame: frame.name,
    section: at.section,
    tool: at.tool,
    place: at.place,
    cutoffWidth: at.cutoffWidth,
    bore: kind.covers === 'sever' ? boreBehind(at, bare.back - (kind.leaves?.(op) ?? 0)) : 0,
    asked: {},
    cycleContours: at.cycleContours,
    slot: null,
  };
  if (frame.name === 'face-back' || frame.name === 'corner-back')
    return { ...common, ...behindFace(at, spanOf(elements, op.span), frame) };
  const through = seenThroughLips(at.metal, frame);
  const metal = through.top;
  const lips = through.lips.isEmpty ? null : through.lips;
  const fixtures = frame.bore || at.fixtures.length === 0 ? null : surfaceOf(at.fixtures, frame);
  if (kind.side === 'axis' || (frame.alongAxis && kind.target === 'none')) {
    const down = kind.looksDownTo?.(op) ?? null;
    const boundary = down === null ? [] : within(part.boundary, down, Number.POSITIVE_INFINITY);
    return { ...common, contour: { ...bare, boundary }, metal, lips, fixtures };
  }
  const span = kind.target === 'span' ? spanOf(elements, op.span) : elements;
  if (!span) {
    const contour = { ...bare, present: elements.length > 0 };
    return { ...common, contour, metal: Surface.empty(), lips: null, fixtures };
  }
  const alike = (kind.alikeSpans?.(part, op) ?? []).flatMap((s) => [spanOf(elements, s) ?? []]);
  const e = extent(alike.length > 0 ? [...span, ...alike.flat()] : span);
  const behind = e.min - (reachOf(at.section) + (at.cutoffWidth + 6));
  const contour = contourOf(part, { side: kind.side, span, alike, min: behind });
  // only what is behind is cut away: what stands in front is in the way of the approach
  const side = (s: Surface): Surface => (frame.outward ? upToPlace(s, -behind) : fromPlace(s, behind));
  // from the front all metal is in the way
  const whole = frame.alongAxis || frame.slanted;
  const seen = whole ? metal : side(metal);
  const [beside, over] = whole ? [fixtures, lips] : [fixtures && side(fixtures), lips && side(lips)];
  const asked =
    kind.covers === 'finish' && at.roughness.size > 0 ? askedOf(at.roughness, [...span, ...alike.flat()]) : {};
  return { ...common, asked, contour, metal: seen, lips: over, fixtures: beside };
};

export { FRAMES };
