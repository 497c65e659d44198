import { n, type Words } from './wording';

/** The machine, its codes and devices. */
export const machineWords = {
  'no-catcher': () => ({
    message: 'The part is to fall into a catcher, which the machine does not have in this channel.',
    remedy: 'Cut off without the catcher, or choose a machine that has one.',
  }),
  'remark-empty': () => ({
    message: 'The remark says nothing that a control can show.',
    remedy: 'Write what the operator is to read, in letters and figures, or delete it.',
  }),
  'device-unknown': (k) => ({
    message: k.action
      ? `The machine has no device that does “${k.action}” and is called on for itself.`
      : 'Nothing is chosen that a device should do.',
    remedy: k.known
      ? `Choose one of: ${k.known}.`
      : 'This machine has no such device; remove the operation, or describe the device in the machine file.',
  }),
  'machine-twice': (k) => ({
    message: `Two of the machine’s ${k.list} are called “${k.id}”.`,
    remedy: 'Give each a name of its own.',
  }),
  'machine-parent': (k) => ({
    message: `Link “${k.link}” stands on “${k.parent}”, which the machine does not have.`,
    remedy: 'Name a link that is there as its parent.',
  }),
  'machine-no-parent': (k) => ({
    message: `Link “${k.link}” has a joint and stands on nothing.`,
    remedy: 'Name the link that it moves on as its parent, or take the joint away.',
  }),
  'machine-loop': (k) => ({
    message: `Link “${k.link}” stands on itself by way of its parents.`,
    remedy: 'Let one of them stand on the bed.',
  }),
  'machine-direction': (k) => ({
    message: `The joint of link “${k.link}” has a direction of length ${n(k.length, 4)}; it must be 1.`,
    remedy: 'Write the direction as a unit vector, such as 0, 0, 1.',
  }),
  'machine-open-travel': (k) => ({
    message: `Axis ${k.axis} of link “${k.link}” has no end to its travel.`,
    remedy: 'Give it both min and max; only a rotary joint may have neither.',
  }),
  'machine-home': (k) => ({
    message: `Axis ${k.axis} of link “${k.link}” has its home at ${n(k.home)}, outside its travel of ${n(k.min)} to ${n(k.max)}.`,
    remedy: 'Give it a home within its travel.',
  }),
  'machine-reference': (k) => ({
    message: `The machine has no ${k.what} “${k.name}”.`,
    remedy: `Name one of: ${k.known}.`,
  }),
  'machine-word': (k) => ({
    message: `The word ${k.word} of ${k.channel} moves two joints: ${k.links}.`,
    remedy: 'Give each a word of its own.',
  }),
  'code-twice': (k) => ({
    message: `${k.code} is ${k.first} and ${k.second}: the machine would do one where the other is meant.`,
    remedy: 'Give one of them another code, under Codes of this machine in Release or in the machine file.',
  }),
  'code-marks': (k) => ({
    message: `${k.code} is given to ${k.what}, and M${k.from} to M${k.to} are the marks at which channels wait.`,
    remedy: 'Give it a code outside these.',
  }),
  'code-for-nothing': (k) => ({
    message: `The machine’s codes name “${k.name}”, which the machine does not have.`,
    remedy: `Name one of: ${k.known}.`,
  }),
  'code-letter': (k) => ({
    message: `${k.letter} is the letter of the second spindle’s place, and an axis of ${k.control}.`,
    remedy: 'Give it a letter that no axis has.',
  }),
  'machine-commanded': (k) => ({
    message: k.by
      ? `${k.carrier} is commanded by ${k.by}.`
      : `${k.carrier} is commanded by no channel, so its tools can never work.`,
    remedy: 'Let exactly one channel name it as its carrier.',
  }),
  'machine-no-way': (k) => ({
    message: `${k.carrier} cannot move along ${k.axes} against the work of ${k.spindle}: no joint of its channel does it.`,
    remedy: 'Give the channel a word for such a joint, or take the spindle out of the carrier’s reaches.',
  }),
  'out-of-reach': (k) => ({
    message: `${k.carrier} does not come to the work of ${k.spindle}.`,
    remedy: k.others ? `Use a tool of ${k.others}.` : 'No carrier of the machine does; hold the work elsewhere.',
  }),
  'device-missing': (k) => ({
    message: `Channel ${k.channel} commands no ${k.device}.`,
    remedy: 'Move the operation to a channel that does, or choose a machine that has one.',
  }),
  'limits-crossed': (k) => ({
    message: `${k.axis} of ${k.of} cannot travel: its least place, ${n(k.min)}, is not below its greatest, ${n(k.max)}.`,
    remedy: 'Correct the machine’s file and take the machine into the job again.',
  }),
} satisfies Partial<Words>;
