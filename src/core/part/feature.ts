import { z } from 'zod';

export const FEATURE_KINDS = [
  'face',
  'turn',
  'bore',
  'cone',
  'form',
  'chamfer',
  'round',
  'groove',
  'inner-groove',
  'face-groove',
  'relief',
  'recess',
  'thread',
  'inner-thread',
  'centre-hole',
  'drilled-hole',
  'radial-hole',
  'axial-hole',
  'angled-hole',
  'flat',
  'polygon',
  'slot',
  'pocket',
  'window',
] as const;
export type FeatureKind = (typeof FEATURE_KINDS)[number];

/** Where a tool can come from: the front with the main spindle, the back after turning the part round, or square to the axis. */
export const ACCESS = ['main', 'back', 'radial', 'angled'] as const;
export type Access = (typeof ACCESS)[number];

/** What is there to machine. Milled features are kept from the solid; turned ones follow from the profile each time. */
export const FeatureSchema = z.object({
  id: z.string().min(1),
  kind: z.enum(FEATURE_KINDS),
  access: z.enum(ACCESS),
  /** Sizes by name in mm (angles in degrees): diameter, width, depth, length, radius, angle, pitch, across, sides … */
  sizes: z.record(z.string(), z.number()),
  /** Front-most and rear-most Z, least and greatest diameter. */
  place: z.object({ front: z.number(), back: z.number(), inner: z.number(), outer: z.number() }),
  /** Angles about the axis in degrees, one for each copy; empty for what goes all the way round. */
  angles: z.array(z.number()).default([]),
  /** True for a hole or window that goes through. */
  through: z.boolean().default(false),
  /** A guess that the user may take or ignore, such as a thread where a cylinder fits one. */
  proposed: z.boolean().default(false),
  /** Name of a thread that is no metric one. */
  designation: z.string().max(40).optional(),
  /** Elements of the profile that make it up. */
  elements: z.array(z.string()).default([]),
});
export type Feature = z.infer<typeof FeatureSchema>;

/** What the user says of a feature; found again by its id, and by place and kind after a new revision. */
export const FeatureNoteSchema = z.object({
  name: z.string().max(120).default(''),
  ignored: z.boolean().default(false),
  /** Tolerance text as on the drawing, such as H7 or ±0.02. */
  tolerance: z.string().max(40).default(''),
  /** Roughness Ra in µm; null = not stated. */
  roughness: z.number().nullable().default(null),
});
export type FeatureNote = z.infer<typeof FeatureNoteSchema>;

const n = (v: number | undefined, digits = 3): string => (v === undefined ? '?' : String(Number(v.toFixed(digits))));

const WORDS: Record<FeatureKind, string> = {
  face: 'Face',
  turn: 'Turned ⌀',
  bore: 'Bore ⌀',
  cone: 'Cone',
  form: 'Form',
  chamfer: 'Chamfer',
  round: 'Round',
  groove: 'Groove',
  'inner-groove': 'Inside groove',
  'face-groove': 'Face groove',
  relief: 'Undercut',
  recess: 'Recess',
  thread: 'Thread',
  'inner-thread': 'Inside thread',
  'centre-hole': 'Centre hole',
  'drilled-hole': 'Hole on centre',
  'radial-hole': 'Radial hole',
  'axial-hole': 'Axial hole',
  'angled-hole': 'Angled hole',
  flat: 'Flat',
  polygon: 'Polygon',
  slot: 'Slot',
  pocket: 'Pocket',
  window: 'Window',
};

export const featureWord = (kind: FeatureKind): string => WORDS[kind].replace(' ⌀', '');

/** A feature in a few words with its sizes, as lists show it. */
export const describeFeature = (f: Feature): string => {
  const s = f.sizes;
  const many = f.angles.length > 1 ? `${f.angles.length} × ` : '';
  switch (f.kind) {
    case 'face':
      return `Face at Z${n(f.place.front)}`;
    case 'turn':
      return `Turned ⌀${n(s.diameter)} × ${n(s.length)}`;
    case 'bore':
      return `Bore ⌀${n(s.diameter)} × ${n(s.length)}`;
    case 'cone':
      return `Cone ⌀${n(f.place.inner)}–⌀${n(f.place.outer)}, ${n(s.angle, 2)}°`;
    case 'form':
      return s.radius === undefined ? `Formed contour × ${n(s.length)}` : `Form R${n(s.radius)}`;
    case 'chamfer':
      return `Chamfer ${n(s.width)} × ${n(s.angle, 1)}°`;
    case 'round':
      return `Round R${n(s.radius)}`;
    case 'groove':
    case 'inner-groove':
      return `${WORDS[f.kind]} ${n(s.width)} wide, ⌀${n(s.diameter)}`;
    case 'face-groove':
      return `Face groove ⌀${n(f.place.inner)}–⌀${n(f.place.outer)} × ${n(s.depth)}`;
    case 'relief':
      return `Undercut ${n(s.width)} × ${n(s.depth)}`;
    case 'recess':
      return `Recess ${n(s.width)} long, ⌀${n(s.diameter)}`;
    case 'thread':
    case 'inner-thread':
      return `${WORDS[f.kind]} ${f.designation ?? `M${n(s.nominal)} × ${n(s.pitch)}`}`;
    case 'centre-hole':
      return `Centre hole ${n(s.diameter)}`;
    case 'drilled-hole':
      return `Hole on centre ⌀${n(s.diameter)} × ${n(s.depth)}`;
    case 'radial-hole':
    case 'axial-hole':
    case 'angled-hole':
      return `${many}${WORDS[f.kind]} ⌀${n(s.diameter)}${f.through ? ' through' : ` × ${n(s.depth)}`}`;
    case 'flat':
      return `${many}Flat at ${n(s.height)}`;
    case 'polygon':
      return `${n(s.sides)}-sided, ${n(s.across)} across flats`;
    case 'slot':
      return `${many}Slot ${n(s.width)} wide`;
    case 'pocket':
      return `${many}Pocket ${n(s.depth)} deep`;
    case 'window':
      return `${many}Window`;
    default:
      return f.kind satisfies never;
  }
};
