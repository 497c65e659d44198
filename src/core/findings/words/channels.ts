import { n, type Words } from './wording';

/** Channels, spindles and what passes between them. */
export const channelWords = {
  'dialect-unknown': (k) => ({
    message: `The control’s dialect “${k.dialect}” is not known, so no program can be written.`,
    remedy: 'Choose a machine whose dialect is there.',
  }),
  'spindle-unknown': (k) => ({
    message: `The holding names the spindle “${k.spindle}”, which the machine does not have.`,
    remedy: 'Choose one of the machine’s spindles in the Hold phase.',
  }),
  'channel-unknown': (k) => ({
    message: `No carrier of the machine belongs to channel ${k.channel}.`,
    remedy: 'Move the operations to a channel that has a carrier.',
  }),
  'channel-differs': (k) => ({
    message: `The operation says channel ${k.said} but stands in the list of channel ${k.listed}.`,
    remedy: `Let it say channel ${k.listed}, or move it.`,
  }),
  unsynchronised: (k) => ({
    message: `This operation and “${k.other}” work on the same part in channels ${k.channels}, and nothing says which comes first.`,
    remedy: 'Put a wait mark before both to let them begin together, or between them to set the order.',
  }),
  'mark-partner': (k) => ({
    message: `Mark ${n(k.mark, 0)} of channel ${k.channel} also ties channel ${k.missing}, which has no such mark: channel ${k.channel} would wait for ever.`,
    remedy: 'Tie the mark in that channel too, or take it out here.',
  }),
  deadlock: (k) => ({
    message: `Channel ${k.channel} waits at mark ${n(k.mark, 0)} for ${k.channels}, which never comes.`,
    remedy: 'Give every named channel the same mark, in the same order.',
  }),
  'second-differs': (k) => ({
    message: `“${k.second}” cannot take the same passes as “${k.first}”: it ${k.what}.`,
    remedy: 'Put the same insert on both carriers, or let one tool work alone.',
  }),
  'second-repeated': () => ({
    message: 'An operation that is repeated works with one tool.',
    remedy: 'Take the second tool away, or take the operation out of its repeat.',
  }),
  'second-alone': (k) => ({
    message: `The second tool${k.tool === '' ? '' : `, “${k.tool}”,`} stands on no other carrier that comes to this work.`,
    remedy: 'Put it into a station of the other carrier, or let one tool work alone.',
  }),
  'spindle-not-commanded': (k) => ({
    message: `Channel ${k.channel} cannot command ${k.spindle}.`,
    remedy: 'Move the operation to a channel that does.',
  }),
  'cannot-synchronise': (k) => ({
    message: `${k.machine} cannot turn its two spindles in step, so a turning part cannot be handed over.`,
    remedy: 'Turn the part round by hand between two holdings, or choose another machine.',
  }),
  'no-limited-feed': (k) => ({
    message: `${k.machine} cannot limit the force with which a slide pushes.`,
    remedy: 'Switch “Limited force” off; the slide then stops at its place.',
  }),
  'faces-away': (k) => ({
    message: `“${k.tool}” points the other way: the work is in the ${k.spindle} spindle.`,
    remedy: 'Mount it with its point toward that spindle, or take another tool.',
  }),
  'handover-room': (k) => ({
    message: `Between the jaws of both spindles ${n(k.room)} mm stay free at the grip; ${n(k.needed)} mm are needed.`,
    remedy: 'Give the bar more stick-out, or grip less of the part.',
  }),
  'handover-slide': (k) => ({
    message: `The sub-spindle would have to stand at ${n(k.at)} mm to grip; its slide travels ${n(k.min)} to ${n(k.max)}.`,
    remedy: 'Change the grip, the jaws or the stick-out.',
  }),
  'handover-unknown': (k) => ({
    message: `The handover leads to “${k.holding}”, which takes nothing over from here.`,
    remedy: 'Choose a holding that takes its work from this one by handover.',
  }),
  'before-handover': (k) => ({
    message: `This begins at ${n(k.at, 1)} s, and “${k.holding}” has its work only at ${n(k.ready, 1)} s.`,
    remedy: 'Put a wait mark after the handover and before this.',
  }),
  'cutoff-before-grip': (k) => ({
    message: `The part is cut off before “${k.holding}” has gripped it: it would fall.`,
    remedy: 'Move the handover in front of the cutoff.',
  }),
  'no-withdraw': (k) => ({
    message: `“${k.holding}” takes the part over and works on it where it took it: its spindle never withdraws from the other one.`,
    remedy: 'Add a withdrawal behind the cutoff.',
  }),
  'part-stays': (k) => ({
    message: `The finished part stays in “${k.holding}”: the next handover meets it there.`,
    remedy: 'End with an ejection, or let the part be taken out by hand at a stop.',
  }),
  'tools-meet': (k) => ({
    message: `At ${n(k.at, 1)} s its tool meets the one of ${k.other} in channel ${k.channel}.`,
    remedy: `Let it begin after ${k.other}, or take another tool or another way.`,
  }),
  'tool-meets-spindle': (k) => {
    const met = k.what === 'work' ? `the work in “${k.spindle}”` : `“${k.spindle}”`;
    return k.stands
      ? {
          message: `Its tool still stands where ${met} comes at ${n(k.at, 1)} s.`,
          remedy: 'Change tools further out, or let the spindle wait.',
        }
      : {
          message: `At ${n(k.at, 1)} s its tool meets ${met}.`,
          remedy: `Let it come when “${k.spindle}” is elsewhere, or change tools nearer to the work.`,
        };
  },
  'out-of-turn': (k) => ({
    message: `It begins at ${n(k.at, 1)} s, before ${k.other} is done at ${n(k.done, 1)} s: ${k.reason}.`,
    remedy: `Let it come after ${k.other}.`,
  }),
  'after-bar-feed': (k) => ({
    message: `It begins at ${n(k.at, 1)} s, when ${k.other} has brought the next bar’s end to its place at ${n(k.done, 1)} s.`,
    remedy: `Let ${k.other} come last.`,
  }),
  'handover-number': (k) => ({
    message: `${k.field} is ${n(k.value)} ${k.unit}; here it must be ${n(k.least)} to ${n(k.most)} ${k.unit}.`,
    remedy: 'Correct the value in the card.',
  }),
  'no-handover': (k) => ({
    message: `“${k.holding}” takes its work from “${k.from}” by handover, and no handover is planned.`,
    remedy: `Add a handover at the end of “${k.from}”.`,
  }),
  'spindle-conflict': (k) => ({
    message: `This and “${k.other}” run at the same time and want the ${k.spindle} spindle at different speeds.`,
    remedy: 'Give both the same fixed speed, or put a wait mark between them.',
  }),
} satisfies Partial<Words>;
