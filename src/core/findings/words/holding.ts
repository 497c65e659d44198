import { n, type Words } from './wording';

/** How the work is held and supported. */
export const holdingWords = {
  'support-no-work': (k) => ({
    message: `There is no work in front of the jaws where the ${k.device} would hold it.`,
    remedy: 'Choose a place where there is work, or do it earlier.',
  }),
  'support-faces-away': (k) => ({
    message: `The tailstock stands opposite the main spindle; it does not come to the work in ${k.spindle}.`,
    remedy: 'Support the work while the main spindle holds it, or remove this operation.',
  }),
  'support-no-centre': () => ({
    message: 'There is no centre hole in the front of the work for the point to stand in.',
    remedy: 'Drill one before with a centre drill.',
  }),
  'support-hole-large': (k) => ({
    message: `The hole in the front of the work is larger than the centre’s point of ⌀${n(k.point)}.`,
    remedy: 'Bring the support before the hole is made, or use a machine with a larger point.',
  }),
  'support-travel': (k) => ({
    message: `${k.device} would have to come to ${n(k.place, 1)}; it goes from ${n(k.min, 0)} to ${n(k.max, 0)}.`,
    remedy: 'Change the stick-out so that the front of the work lies within.',
  }),
  'support-uneven': (k) => ({
    message: `At Z ${n(k.z, 1)} the rollers would run on ⌀${n(k.least, 3)} to ⌀${n(k.most, 3)}.`,
    remedy: 'Set the rest where the work is round and even, or turn a place for it before.',
  }),
  'support-not-on': (k) => ({
    message: `The ${k.device} is taken away here, and it does not hold the work.`,
    remedy: 'Remove this operation, or bring the support before.',
  }),
  'support-pushes': () => ({
    message: 'The part is cut off while the centre still pushes against it: it would jam the blade.',
    remedy: 'Draw the centre back before.',
  }),
  'support-in-the-way': () => ({
    message: 'What supports the work stands in front of what is left to cut here.',
    remedy: 'Do it before the support comes, or take the support away before.',
  }),
  'steady-wanted': (k) => ({
    message: `${n(k.length)} mm stand between jaws and centre, ${n(k.ratio, 1)} × the work’s ⌀${n(k.diameter)}; more than 10 × chatters and bends in the middle.`,
    remedy: 'Add a steady rest between them, or take light cuts.',
  }),
  'stock-too-small': (k) => ({
    message: `The bar of ⌀${n(k.stock)} is smaller than the part’s ⌀${n(k.part)}.`,
    remedy: `Take a bar of at least ⌀${n(k.part)}.`,
  }),
  'stick-out-short': (k) => ({
    message: `The part reaches ${n(k.missing)} mm into the jaws.`,
    remedy: `Make the stick-out ${n(k.needed)} mm or more.`,
  }),
  unsupported: (k) => ({
    message: `${n(k.length)} mm stick out of the jaws, ${n(k.ratio, 1)} × the bar’s ⌀${n(k.diameter)}; more than 3 × bends under the cut.`,
    remedy: 'Use a tailstock or a steady rest, or a shorter stick-out.',
  }),
  'grip-beyond-piece': (k) => ({
    message: `The grip of ${n(k.grip)} mm is longer than the piece, which is ${n(k.length)} mm long: nothing sticks out.`,
    remedy: 'Grip less of it.',
  }),
  'grip-on-air': (k) => ({
    message: `The jaws touch the piece over ${n(k.contact)} mm of the ${n(k.grip)} mm that they grip; the rest stands in air.`,
    remedy: 'Grip up to where the thickest place ends, or bore the jaws to the shape.',
  }),
  'grip-on-thread': (k) => ({
    message: `The jaws close on the thread of “${k.operation}” over ${n(k.length)} mm; hard jaws spoil it.`,
    remedy: 'Grip another place, put a split sleeve between, or cut the thread in the last holding.',
  }),
  'piece-not-off': (k) => ({
    message: `“${k.holding}” takes what “${k.from}” leaves, but nothing comes off the bar there.`,
    remedy: `Add a cutoff at the end of “${k.from}”.`,
  }),
  'no-bar': () => ({
    message: 'A bar is to be fed where no bar is held.',
    remedy: 'Move it to the side that holds the bar.',
  }),
  'same-zero': (k) => ({
    message: `${k.holdings} have the same zero, ${k.code}: what is measured for one is lost for the other.`,
    remedy: 'Give each holding a work offset of its own.',
  }),
  'grip-short': (k) => ({
    message: `The jaws hold ${n(k.grip)} mm of the work; at least ${n(k.least)} mm are wanted for this size.`,
    remedy: 'Lengthen the grip.',
  }),
  'grip-lost': (k) => ({
    message: `At ${n(k.speed, 0)} rev/min the jaws lose their grip: ${n(k.left, 1)} kN of ${n(k.force, 1)} are left.`,
    remedy: `Keep the speed below ${n(k.most, 0)} rev/min, or use lighter jaws.`,
  }),
  'safe-distance-small': (k) => ({
    message: `The safe distance is ${n(k.distance)} mm; rapids stop that close to rough stock.`,
    remedy: `Make it at least ${n(k.least)} mm.`,
  }),
  'tool-change-close': (k) => ({
    message:
      k.gap < 0
        ? `When the turret indexes, “${k.tool}” goes ${n(-k.gap)} mm into the metal.`
        : `When the turret indexes, “${k.tool}” comes within ${n(k.gap)} mm of the metal (at least ${n(k.least)} wanted).`,
    remedy: `Move the tool change position to Z${n(k.needed, 0)} or further.`,
  }),
} satisfies Partial<Words>;
