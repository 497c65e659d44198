import type { Finding } from '../operations';
import type { PartProblem } from '../part';

export interface Wording {
  readonly message: string;
  /** What is likely to help. */
  readonly remedy: string;
}

const n = (value: number | string | undefined, digits = 2): string =>
  typeof value === 'number' ? String(Number(value.toFixed(digits))) : String(value ?? '?');

/** The sentence for a finding: numbers, reason, remedy. Codes without an entry would be a broken invariant (tested). */
export const FINDING_WORDS: Record<string, (k: Finding['numbers']) => Wording> = {
  gouge: (k) => ({
    message: `The tool cuts ${n(k.depth, 3)} mm into the finished part.`,
    remedy: 'Raise the depth or limit of this operation, or choose a tool whose shape fits the contour.',
  }),
  'rapid-in-stock': (k) => ({
    message: `A rapid to ⌀${n(k.tip)} Z${n(k.z)} runs through metal.`,
    remedy: 'Enlarge the safe distance, or let an earlier operation clear this place.',
  }),
  'holder-meets-stock': () => ({
    message: 'The tool holder meets the stock.',
    remedy: 'Choose a tool with more clearance or a longer reach, or rough this place first.',
  }),
  'tool-meets-jaws': () => ({
    message: 'The tool meets the jaws.',
    remedy: 'Give the bar more stick-out, or set a back limit in front of the jaws.',
  }),
  'tool-meets-chuck': () => ({
    message: 'The tool meets the chuck.',
    remedy: 'Give the bar more stick-out, or set a back limit in front of the chuck.',
  }),
  'turret-meets-stock': () => ({
    message: 'The turret meets the stock.',
    remedy: 'Use a tool with a longer overhang, or change the approach.',
  }),
  'turret-meets-jaws': () => ({
    message: 'The turret meets the jaws.',
    remedy: 'Use a tool with a longer overhang, or more stick-out.',
  }),
  'turret-meets-chuck': () => ({
    message: 'The turret meets the chuck.',
    remedy: 'Use a tool with a longer overhang, or more stick-out.',
  }),
  'travel-x': (k) => ({
    message: `The X slide would have to stand at ${n(k.position)} mm (radius); it travels ${n(k.min)} to ${n(k.max)}. ${n(k.over)} mm too far.`,
    remedy: 'Use a tool with another overhang, or move the tool change position.',
  }),
  'travel-z': (k) => ({
    message: `The Z slide would have to stand at ${n(k.position)} mm; it travels ${n(k.min)} to ${n(k.max)}. ${n(k.over)} mm too far.`,
    remedy: 'Change the stick-out, the tool change position or the tool’s overhang.',
  }),
  'speed-clamp': (k) => ({
    message: `Below ⌀${n(k.diameter)} the spindle stays at its limit of ${n(k.clamp, 0)} rev/min, so the surface speed falls to ${n(k.reached, 0)} m/min.`,
    remedy: 'This is normal near the centre; lower the surface speed if the finish there matters.',
  }),
  'no-tool': () => ({
    message: 'The operation has no tool.',
    remedy: 'Choose one under “What can cut this”, or in the card.',
  }),
  'tool-unknown': (k) => ({
    message: `The tool “${n(k.tool)}” is not in the job.`,
    remedy: 'Take it from the library into a station, or choose another.',
  }),
  'tool-not-in-station': (k) => ({
    message: `The tool “${n(k.tool)}” is in no station.`,
    remedy: 'Put it into a free station of the turret in the Tool phase.',
  }),
  'tool-unreadable': (k) => ({
    message: `The insert designation “${n(k.found)}” cannot be read (${n(k.reason)}).`,
    remedy: 'Write it as ISO 1832 has it, such as CNMG120408.',
  }),
  'wrong-tool': (k) => ({ message: `This operation needs ${n(k.needs)}.`, remedy: 'Choose a tool of that kind.' }),
  'duplicate-station': (k) => ({
    message: `Offset ${n(k.offset, 0)} is used by two tools in stations ${n(k.stations)}.`,
    remedy: 'Give each tool its own offset number.',
  }),
  'face-below-part': (k) => ({
    message: `The face is set to Z${n(k.target)}, behind the part’s front at Z${n(k.front)}.`,
    remedy: 'Empty the field to face at the part’s front.',
  }),
  'nothing-to-cut': () => ({
    message: 'Nothing is left to cut here.',
    remedy: 'Check the span and limits, the stock allowance, or switch the operation off.',
  }),
  'not-approachable': () => ({
    message: 'A place could not be reached without touching metal on the way; its metal stays.',
    remedy: 'Rough it first with a tool that reaches it, or choose a slimmer tool.',
  }),
  'span-lost': () => ({
    message: 'The span points at an element that the part no longer has.',
    remedy: 'Pick the span anew in the drawing.',
  }),
  'no-bore': () => ({
    message: 'The part has no inner contour.',
    remedy: 'Draw the bore in the Part phase, or remove this operation.',
  }),
  'limits-empty': (k) => ({
    message: `The limits leave nothing between Z${n(k.front)} and Z${n(k.back)}.`,
    remedy: 'Move the front limit forward or the back limit back.',
  }),
  'bore-undrilled': (k) => ({
    message: 'The bore is still solid: boring needs a hole first.',
    remedy: `Put a drilling operation before this one (the bore is ⌀${n(k.needed)}).`,
  }),
  'bar-too-thick': (k) => ({
    message: `The boring bar is ${n(k.missing)} mm too thick for a hole of ⌀${n(k.bore)}.`,
    remedy: 'Drill larger, or take a slimmer bar.',
  }),
  'drill-too-short': (k) => ({
    message: `The hole is ${n(k.depth)} mm deep; the flutes are ${n(k.flutes)} mm long.`,
    remedy: 'Take a longer drill, or drill less deep.',
  }),
  'drill-holder-meets-stock': () => ({
    message: 'The drill’s holder comes to the face before the hole is deep enough.',
    remedy: 'Take a longer drill.',
  }),
  'cutoff-meets-jaws': (k) => ({
    message: `The cutoff blade does not clear the jaws: ${n(k.missing)} mm of stick-out are missing.`,
    remedy: `Make the stick-out ${n(k.needed)} mm or more.`,
  }),
  'blade-too-short': (k) => ({
    message: `The blade must reach ${n(k.needed)} mm deep; it reaches ${n(k.reach)}.`,
    remedy: 'Take a blade with more reach.',
  }),
  'cutoff-not-last': (k) => ({
    message: `“${n(k.after)}” comes after the cutoff, when the part is off.`,
    remedy: 'Move the cutoff to the end.',
  }),
  'cycle-not-possible': (k) => ({
    message: `Posted as separate moves, because the cycle cannot take this contour: ${n(k.reason)}.`,
    remedy: 'Nothing is wrong; the path is the same in plain moves.',
  }),
  'compensation-not-possible': () => ({
    message: 'A stretch is posted without G41/G42, because the nose radius does not fit its contour.',
    remedy: 'Take a smaller nose radius, or leave the path computed.',
  }),
  'pass-below-nose': (k) => ({
    message: `Passes of ${n(k.depth)} mm are thinner than the nose radius ${n(k.nose)}: the nose presses more than it cuts.`,
    remedy: 'Take fewer, deeper passes.',
  }),
  'bad-number': (k) => ({
    message: `${n(k.field)} is ${n(k.value)}; it must be ${n(k.must)}.`,
    remedy: 'Correct the value in the card.',
  }),
  'stock-too-small': (k) => ({
    message: `The bar of ⌀${n(k.stock)} is smaller than the part’s ⌀${n(k.part)}.`,
    remedy: `Take a bar of at least ⌀${n(k.part)}.`,
  }),
  'stick-out-short': (k) => ({
    message: `The part reaches ${n(k.missing)} mm into the jaws.`,
    remedy: `Make the stick-out ${n(k.needed)} mm or more.`,
  }),
  'finish-too-deep': (k) => ({
    message: `The finishing pass takes ${n(k.depth, 1)} mm on average in one cut; more than ${n(k.most)} mm is no finishing.`,
    remedy: 'Put a roughing operation over the same span before it.',
  }),
  'power-over': (k) => ({
    message: `The cut asks for ${n(k.power, 1)} kW; the spindle gives ${n(k.available, 1)} kW.`,
    remedy: 'Lower the depth, feed or surface speed.',
  }),
  'depth-over-edge': (k) => ({
    message: `A depth of ${n(k.depth)} mm is more than the insert’s edge should take (${n(k.edge)} mm).`,
    remedy: 'Lower the depth per pass.',
  }),
  internal: (k) => ({
    message: `The path could not be computed (${n(k.reason)}).`,
    remedy: 'Undo the last change and report this job.',
  }),
  deadlock: (k) => ({
    message: `Channel ${n(k.channel)} waits at mark ${n(k.mark, 0)} for ${n(k.channels)}, which never comes.`,
    remedy: 'Give every named channel the same mark, in the same order.',
  }),
  leftover: (k) => ({
    message: `${n(k.volume, 1)} mm³ stay on the part after the last operation, up to ${n(k.thickness, 3)} mm thick.`,
    remedy: 'See the stippled places; choose a tool that reaches them.',
  }),
  'part-missing': () => ({
    message: 'The part has no closed contour, so nothing can be planned.',
    remedy: 'Complete the element table in the Part phase.',
  }),
};

export const wordFinding = (f: Finding): Wording => {
  const words = FINDING_WORDS[f.code];
  if (!words) throw new Error(`invariant: no wording for ${f.code}`);
  return words(f.numbers);
};

const SIDES = { outer: 'Outer contour', inner: 'Inner contour', back: 'Bore from the back' } as const;
const place = (p: PartProblem): string => `${SIDES[p.side]}${p.row ? `, row ${p.row}` : ''}`;

export const wordPartProblem = (p: PartProblem): Wording => {
  const k = p.numbers;
  switch (p.code) {
    case 'empty':
      return {
        message: `${place(p)}: there are no elements.`,
        remedy: 'Add a first row, or drop a DXF drawing on the page.',
      };
    case 'arc-impossible':
      return {
        message: `${place(p)}: no arc of radius ${n(k.radius)} joins these ends.`,
        remedy: `The radius must be at least ${n(k.least, 3)} mm.`,
      };
    case 'radius-negative':
      return {
        message: `${place(p)}: the radius is ${n(k.radius)}.`,
        remedy: 'Type a radius above 0; turn the arc with its direction.',
      };
    case 'corner-does-not-fit':
      return {
        message: `${place(p)}: a corner of ${n(k.size)} mm does not fit between its neighbours.`,
        remedy: 'Make it smaller, or lengthen the elements beside it.',
      };
    case 'below-axis':
      return {
        message: `${place(p)}: the contour goes below the axis (⌀${n(k.diameter)}).`,
        remedy: 'Keep every diameter at 0 or above.',
      };
    case 'self-crossing':
      return {
        message: `The contour crosses itself near Z${n(p.at?.x)} ⌀${n((p.at?.y ?? 0) * 2)}.`,
        remedy: 'Check the rows there: order, direction and corner sizes.',
      };
    case 'open':
      return {
        message: `The contour is open by ${n(k.gap, 3)} mm at Z${n(p.at?.x)} ⌀${n((p.at?.y ?? 0) * 2)}.`,
        remedy: 'Let both contours meet there, or end on the axis.',
      };
    case 'no-volume':
      return {
        message: 'The contour encloses no metal.',
        remedy: 'Draw it from the front over the outside to the back.',
      };
    case 'zero-length':
      return { message: `${place(p)}: the element has no length.`, remedy: 'Change its end or delete the row.' };
    case 'inner-outside':
      return {
        message: `${place(p)}: the bore lies outside the part.`,
        remedy: 'Make it smaller than the outer contour.',
      };
    case 'not-finite':
      return { message: `${place(p)}: a value is not a number.`, remedy: 'Type a number.' };
    case 'shape-does-not-fit':
      return {
        message: `${place(p)}: the standard shape cannot be made, because ${n(k.reason)}.`,
        remedy: 'Change its size or place, or the rows beside it.',
      };
    case 'under-determined':
      return { message: `${place(p)}: too little is given.`, remedy: `Give ${n(k.give)}.` };
    case 'over-determined':
      return {
        message: `${place(p)}: too much is given, and it does not agree: the ${n(k.value)} is off by ${n(k.off, 4)}.`,
        remedy: `Empty the ${n(k.value)}, or one of the other values.`,
      };
    case 'no-solution':
      return {
        message: `${place(p)}: with this ${n(k.value)} the row never gets there.`,
        remedy: 'Check the direction and the values of this row.',
      };
    case 'formula':
      return p.row
        ? {
            message: `${place(p)}: the formula for ${n(k.name)} cannot be computed: ${n(k.reason)}.`,
            remedy: 'Correct the formula, or type a number.',
          }
        : { message: `Dimension “${n(k.name)}” cannot be computed: ${n(k.reason)}.`, remedy: 'Correct its formula.' };
    default:
      return p.code satisfies never;
  }
};
