import { type Curve, onceFor } from '../../geometry';
import { type Part, turnedFeatures } from '../../part';
import { pitchWithin, STANDARD_NAMES, type ThreadForm, tapersAs, threadByName } from '../../threads';
import { toolFacts } from '../../tooling';
import type { Starting } from '../kind';

/** Standard threads by families, in the order of their use. */
const FAMILIES: readonly (readonly ThreadForm[])[] = STANDARD_NAMES.map((names) =>
  names.flatMap((name) => threadByName(name) ?? []),
);

/** How far a surface may stand proud of a thread's crest, mm, and lie below it, in pitches. */
const PROUD = 0.03;
const BELOW = 0.2;
/** A crest no further from a diameter than this is that diameter, mm. */
const EXACT = 0.01;

/** Where a straight surface begins in front, and how its metal comes toward the tool on the way to the chuck. */
const surfaceOf = (
  { from, to }: Curve,
  side: 'outer' | 'inner',
): { readonly diameter: number; readonly taper: number } => {
  const [front, back] = from.x >= to.x ? [from, to] : [to, from];
  const grows = (2 * (back.y - front.y)) / Math.max(1e-9, front.x - back.x);
  return { diameter: 2 * front.y, taper: side === 'outer' ? grows : -grows };
};

const featuresOf = onceFor((part: Part) => turnedFeatures(part));

/** A standard thread that the picked element has room for, of those that the insert cuts; null for none. */
export const guessedThread = ({ part, span, tool }: Starting, side: 'outer' | 'inner'): ThreadForm | null => {
  const list = side === 'outer' ? part.outer : part.inner;
  const e = span ? list.find((k) => k.id === span.from) : undefined;
  if (e?.curve.kind !== 'line') return null;
  const { diameter, taper } = surfaceOf(e.curve, side);
  const edge = tool ? toolFacts(tool).thread : undefined;
  const cuts = (form: ThreadForm): boolean =>
    !edge || (Math.abs(edge.angle - form.angle) < 0.1 && pitchWithin(form.pitch, edge));
  // the part itself says it where its relief does
  const feature = featuresOf(part).find(
    (f) => f.kind === (side === 'outer' ? 'thread' : 'inner-thread') && f.elements.includes(e.id),
  );
  const shown = feature
    ? threadByName(feature.designation ?? `M${feature.sizes.nominal}x${feature.sizes.pitch}`)
    : null;
  const off = (form: ThreadForm): number => (side === 'outer' ? form.major - diameter : diameter - form.minor);
  const fits = FAMILIES.map((family) =>
    family.filter((f) => tapersAs(f, taper) && off(f) > -PROUD && off(f) < BELOW * f.pitch && cuts(f)),
  );
  // a diameter that is a crest to the hundredth is meant so
  const exact = fits.map((list) => list.filter((f) => Math.abs(off(f)) < EXACT));
  const nearest = exact.find((list) => list.length > 0);
  if (shown && cuts(shown) && (!nearest || Math.abs(off(shown)) < EXACT)) return shown;
  const best = nearest ?? fits.find((list) => list.length > 0);
  return best?.reduce((a, b) => ((off(b) - off(a) || a.pitch - b.pitch) < 0 ? b : a)) ?? null;
};
