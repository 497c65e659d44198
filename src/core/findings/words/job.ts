import { n, ofParts, type Words } from './wording';

/** Numbers, repeats and the job as a whole. */
export const jobWords = {
  'bad-number': (k) => ({
    message: `${k.field} is ${n(k.value)}; it must be ${k.must}.`,
    remedy: 'Correct the value in the card.',
  }),
  formula: (k) => ({
    message: `The formula for ${k.field} cannot be computed: ${k.reason}.`,
    remedy: 'Correct the formula, or type a number.',
  }),
  internal: (k) => ({
    message: `The path could not be computed (${k.reason}).`,
    remedy: 'Undo the last change and report this job.',
  }),
  'too-much-work': (k) => ({
    message: `${k.what} would be ${n(k.number, 0)}; at most ${n(k.most, 0)} are computed.`,
    remedy: 'Check the number that makes it so large: a depth, a size or a length.',
  }),
  'repeat-in-the-way': (k) => ({
    message: `It comes to each part from the front, and by tool the parts of “${k.repeat}” before it still stand there.`,
    remedy: 'Make one part after another, or leave only what is cut from outside in the group.',
  }),
  'repeat-parted': (k) => ({
    message: `“${k.repeat}” is torn apart: another operation stands in it, after “${k.between}”.`,
    remedy: 'Move that operation out of the repeat, or take it into it.',
  }),
  'repeat-holdings': (k) => ({
    message: `The operations of “${k.repeat}” do not all work in one holding.`,
    remedy: 'Keep only those of one holding in it.',
  }),
  'repeat-no-pitch': (k) => ({
    message: `“${k.repeat}” has no pitch: nothing in it takes the part off a bar, so the way from one to the next cannot be worked out.`,
    remedy: 'Type the pitch.',
  }),
  'repeat-first': (k) => ({
    message: `“${k.repeat}” begins with number ${k.first} of ${k.count}: nothing is left to make.`,
    remedy: `Begin with 1 to ${k.count}.`,
  }),
  'repeat-zeros': (k) => ({
    message: `“${k.repeat}” wants ${k.count} zeros of its own; from its work offset on the control has ${k.most}.`,
    remedy: `Use one zero for all, make at most ${k.most}, or begin with G54.`,
  }),
  'repeat-pitch': (k) => ({
    message: `The pitch of “${k.repeat}” is ${n(k.pitch, 3)} mm; part, blade and what is left on the back take ${n(k.least, 3)}. Each part would be cut into by the one before.`,
    remedy: `Make it at least ${n(k.least, 3)} mm, and more by what is faced off.`,
  }),
  'repeat-too-long': (k) => ({
    message: `${k.count} parts want a stick-out of ${n(k.needed, 1)} mm; the bar sticks out ${n(k.stickOut, 1)}, enough for ${k.fits}.`,
    remedy: `Pull the bar further out, or make ${k.fits} from one stick-out.`,
  }),
  'part-missing': () => ({
    message: 'The part has no closed contour, so nothing can be planned.',
    remedy: 'Complete the element table in the Part phase.',
  }),
  leftover: (k) => ({
    message: `${n(k.volume, 1)} mm³ stay on the part${ofParts(k)} after the last operation, up to ${n(k.thickness, 3)} mm thick.`,
    remedy: 'See the stippled places; choose a tool that reaches them, or say in Part how round inside corners may be.',
  }),
  'metal-missing': (k) => ({
    message: `${n(k.volume, 1)} mm³ are missing from the finished part${ofParts(k)}, up to ${n(k.thickness, 3)} mm deep.`,
    remedy: 'See the cross-hatched places: an operation cuts too deep there, or the stock never had that metal.',
  }),
  'nothing-made': (k) => ({
    message: `No operation is switched on; ${n(k.volume, 0)} mm³ have to come off.`,
    remedy: 'Switch the operations on, or pick a piece of the contour in Plan and choose what can cut it.',
  }),
} satisfies Partial<Words>;
