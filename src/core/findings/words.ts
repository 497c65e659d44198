import type { Finding } from './finding';
import type { FindingCode, FindingNumbers } from './numbers';

export interface Wording {
  readonly message: string;
  /** What is likely to help. */
  readonly remedy: string;
}

/** A number as people read it: at most `digits` decimals, no trailing zeros. */
const n = (value: number, digits = 2): string => String(Number(value.toFixed(digits)));

/** Which of several equal parts is meant; nothing where there is one. */
const ofParts = (k: { readonly copy: number; readonly count: number }): string =>
  k.count > 1 ? ` ${k.copy} of ${k.count}` : '';

/** The sentence of every code. A code without one does not compile. */
export const FINDING_WORDS: { readonly [C in FindingCode]: (k: FindingNumbers[C]) => Wording } = {
  gouge: (k) => ({
    message: `The tool cuts ${n(k.depth, 3)} mm into the finished part.`,
    remedy: 'Raise the depth or limit of this operation, or choose a tool whose shape fits the contour.',
  }),
  'rapid-in-stock': (k) => ({
    message: `A rapid to ⌀${n(k.tip)} Z${n(k.z)} runs through metal.`,
    remedy: 'Enlarge the safe distance, or let an earlier operation clear this place.',
  }),
  'holder-meets-stock': (k) => ({
    message: `The tool holder meets the stock, ${n(k.thickness)} mm deep.`,
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
  'tool-meets-support': () => ({
    message: 'The tool, or its holder, meets the support of the work.',
    remedy:
      'Keep its span away from there with a limit, do it before the support comes, or take the support away before.',
  }),
  'turret-meets-support': () => ({
    message: 'The turret, or a tool beside this one in its block, meets the support of the work.',
    remedy: 'Use a tool with a longer overhang, or take the support away before.',
  }),
  'turret-meets-stock': () => ({
    message: 'The turret, or a tool beside this one in its block, meets the stock.',
    remedy: 'Use a tool with a longer overhang, or change the approach.',
  }),
  'turret-meets-jaws': () => ({
    message: 'The turret, or a tool beside this one in its block, meets the jaws.',
    remedy: 'Use a tool with a longer overhang, or more stick-out.',
  }),
  'turret-meets-chuck': () => ({
    message: 'The turret, or a tool beside this one in its block, meets the chuck.',
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
  'travel-axis': (k) => ({
    message: `Axis ${k.axis} would have to stand at ${n(k.position)}; it travels ${n(k.min)} to ${n(k.max)}.`,
    remedy: 'Move the operation to another angle or place.',
  }),
  'axis-missing': (k) => ({
    message: `The path moves axis ${k.axis}, which ${k.carrier} does not have.`,
    remedy: 'Choose a carrier or machine with that axis.',
  }),
  'axis-not-cut': (k) => ({
    message: `The path feeds in ${k.axes}; metal taken off in these axes is not simulated yet.`,
    remedy: 'Check this operation at the machine before it is released.',
  }),
  'event-not-run': (k) => ({
    message: `The program holds ${k.what}, which this control’s dialect cannot say.`,
    remedy: k.coded
      ? 'Give it a code under Codes of this machine in Release, or remove it from the operation.'
      : 'Choose another dialect, or remove it from the operation.',
  }),
  'no-tool': () => ({
    message: 'The operation has no tool.',
    remedy: 'Choose one under “What can cut this”, or in the card.',
  }),
  'tool-unknown': (k) => ({
    message: `The tool “${k.tool}” is not in the job.`,
    remedy: 'Take it from the library into a station, or choose another.',
  }),
  'tool-not-in-station': (k) => ({
    message: `The tool “${k.tool}” is in no station.`,
    remedy: 'Put it into a free station of the turret in the Tool phase.',
  }),
  'tool-twice': (k) => ({
    message: `“${k.tool}” is said to stand in ${k.places}; one tool stands in one place.`,
    remedy: 'Empty one of the stations, or put a second tool of its own there.',
  }),
  'tool-on-other-carrier': (k) => ({
    message: `The tool “${k.tool}” stands on ${k.carrier}; this channel works with ${k.wanted}.`,
    remedy: 'Put the tool on that carrier, or move the operation to the other channel.',
  }),
  'tool-unreadable': (k) => ({
    message:
      k.reason === 'profile'
        ? `The profile of the form tool cannot be read at “${k.found}”.`
        : `The insert designation “${k.found}” cannot be read (${k.reason}).`,
    remedy:
      k.reason === 'profile'
        ? 'Write places “z x” from left to right, parted by semicolons, lower than the reach: -2 1; 0 0; 2 1.'
        : 'Write it as ISO 1832 has it, such as CNMG120408.',
  }),
  'wrong-tool': (k) => ({
    message: `This operation needs ${k.needs}; its tool is ${k.found}.`,
    remedy: 'Choose a tool of that kind.',
  }),
  'wrong-hand': (k) => ({
    message: `This operation needs ${k.needs}; the tool is ${k.found}.`,
    remedy: 'Choose a tool of the other hand, or turn it over in the Tool phase.',
  }),
  'way-up-not-possible': (k) => ({
    message: `“${k.tool}” is mounted upside down, which puts its edge beyond the axis.`,
    remedy: 'Mount it the usual way up, or take a tool of the other hand.',
  }),
  'duplicate-station': (k) => ({
    message: `Offset ${n(k.offset, 0)} is used by two tools in stations ${k.stations}.`,
    remedy: 'Give each tool its own offset number.',
  }),
  'station-missing': (k) => ({
    message: `Station ${k.station} is not on ${k.carrier}, which has ${n(k.stations, 0)}.`,
    remedy: `Put the tool into a station from 1 to ${n(k.stations, 0)}.`,
  }),
  'stick-out-of-tool': (k) => ({
    message: `The tool is to stand out ${n(k.stickOut)} mm; with its cutter and its holder’s own body it stands out ${n(k.least, 1)} mm, and is drawn and checked so.`,
    remedy: `Measure its stick-out: ${n(k.least, 1)} mm or more.`,
  }),
  'bar-overhang': (k) => ({
    message: `The bar sticks out ${n(k.ratio, 1)} × its diameter; ${k.bar} holds still up to ${n(k.most, 0)}.`,
    remedy: 'Shorten the overhang, take a thicker bar, or one of carbide.',
  }),
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
  'speed-clamp': (k) => ({
    message: `Below ⌀${n(k.diameter)} the spindle stays at its limit of ${n(k.clamp, 0)} rev/min, so the surface speed falls to ${n(k.reached, 0)} m/min.`,
    remedy: 'This is normal near the centre; lower the surface speed if the finish there matters.',
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
  'behind-jaws': (k) => ({
    message: `The path is asked to go back to Z${n(k.asked)}; the jaws begin at Z${n(k.jaws)}, and it ends in front of them.`,
    remedy: 'Move the back limit in front of the jaws, or give the bar more stick-out.',
  }),
  'limits-empty': (k) => ({
    message: `The limits leave nothing between Z${n(k.front)} and Z${n(k.back)}.`,
    remedy: 'Move the front limit forward or the back limit back.',
  }),
  'bore-undrilled': (k) => ({
    message: 'The bore is still solid: boring needs a hole first.',
    remedy: `Put a drilling operation before this one (the bore is ⌀${n(k.needed)}).`,
  }),
  'bore-shallow': (k) => ({
    message: `The drilled hole ends ${n(k.missing)} mm before the bottom of the bore.`,
    remedy: 'Drill deeper before boring; a boring bar does not cut into the full.',
  }),
  'bar-too-thick': (k) => ({
    message: `The boring bar is ${n(k.missing)} mm too thick for a hole of ⌀${n(k.bore)}.`,
    remedy: 'Drill larger, or take a slimmer bar.',
  }),
  'no-slot-behind': (k) => ({
    message: `Nothing is open behind the face at Z ${n(k.face)}: the work stands as high as its rim of ⌀${n(k.rim)} all the way to the chuck.`,
    remedy: 'Cut a slot behind it first, by a groove or along Z, or let the passes run along Z.',
  }),
  'slot-too-narrow': (k) => ({
    message: `The slot behind the face is ${n(k.missing)} mm too narrow for ${k.tool}, holder included.`,
    remedy: 'Widen the slot first, take a slimmer tool, or let the passes run along Z.',
  }),
  'centre-mouth': (k) => ({
    message: `A seat of ⌀${n(k.mouth)} is asked for; this centre drill makes ⌀${n(k.least)} to ⌀${n(k.most)}.`,
    remedy: 'Ask for another mouth, or take a centre drill of another size.',
  }),
  'form-does-not-fit': (k) => ({
    message: `The form tool stops ${n(k.left, 3)} mm above the bottom of its span: its profile does not fit in further.`,
    remedy: 'Choose a form tool of that profile, or finish the place with another tool.',
  }),
  'groove-narrow': (k) => ({
    message:
      k.depth > 0
        ? `The blade of ${n(k.blade)} mm does not come to the floor of the groove: ${n(k.depth, 3)} mm stay.`
        : `The groove is ${n(k.width)} mm wide; the blade has ${n(k.blade)}.`,
    remedy: 'Take a narrower blade, or one with a smaller corner radius.',
  }),
  'groove-not-round': (k) => ({
    message: `Rolling in and out wants a round blade; this one has a front that is flat over ${n(k.flat)} mm.`,
    remedy: 'Take a blade with a full radius, or turn the groove by levels.',
  }),
  'groove-plunged': (k) => ({
    message: `The groove is plunged and not turned by levels: ${k.reason}.`,
    remedy: 'Nothing has to be done.',
  }),
  'face-groove-range': (k) => ({
    message: `The first plunge would have an outer diameter of ${n(k.inner)} to ${n(k.outer)}; the blade has room from ⌀${n(k.least)} to ⌀${n(k.most)}.`,
    remedy: 'Take a face blade for this diameter.',
  }),
  'tap-hole': (k) => ({
    message: `There is no hole for ${k.thread} on the axis.`,
    remedy: `Drill ⌀${n(k.drill)} before it.`,
  }),
  'tap-hole-wide': (k) => ({
    message: `The hole is so wide that ${k.thread} gets little or no thread.`,
    remedy: `Drill ⌀${n(k.drill)} in its place.`,
  }),
  'tap-float': (k) => ({
    message: `The floating chuck would have to give ${n(k.needed)} mm on the way in; ${n(k.most)} mm is usual.`,
    remedy: 'Raise the feed nearer to the pitch, or tap less deep.',
  }),
  'tap-no-room': (k) => ({
    message: `The tap goes ${n(k.needed)} mm deep, its chamfer of ${n(k.chamfer)} mm counted; the hole has ${n(k.free)}.`,
    remedy: 'Drill deeper, ask for less thread, or take a tap with a shorter chamfer.',
  }),
  'ream-hole': (k) => ({
    message: `The hole is not drilled to ⌀${n(k.least)} or more over ${n(k.deep)} mm: too much metal for a reamer of ⌀${n(k.diameter, 3)}.`,
    remedy: 'Drill or bore it first, as deep as the reamer goes.',
  }),
  'ream-thin': (k) => ({
    message: `The hole is within ${n(k.least)} mm of ⌀${n(k.diameter, 3)} already: the reamer rubs.`,
    remedy: 'Drill it smaller.',
  }),
  'spiral-unknown': (k) => ({
    message: k.name ? `“${k.name}” is no spiral of a face.` : 'The operation names no spiral.',
    remedy: 'Write P and its pitch: P1.5, P6x30 with flanks of 30°, P2x55 with flanks of 55°.',
  }),
  'thread-unknown': (k) => ({
    message: k.name ? `“${k.name}” is no thread that is known here.` : 'The operation names no thread.',
    remedy:
      'Write a designation: M16x1.5, 1/2-13, G1/2, R1/2, NPT1/2 or Tr20x4. M with any two numbers is one of your own.',
  }),
  'thread-flanks': (k) => ({
    message: `${k.thread} has flanks of ${n(k.needs)}°; the insert has ${n(k.found)}°.`,
    remedy: `Take an insert of ${n(k.needs)}°.`,
  }),
  'thread-nose': (k) => ({
    message: `A nose of ${n(k.nose, 3)} is larger than the root of ${k.thread} may be round (${n(k.most, 3)}): nothing screws into it.`,
    remedy: 'Take an insert for finer pitches, or one of full profile for this one.',
  }),
  'thread-pitch': (k) => ({
    message: `${k.thread} has a pitch of ${n(k.pitch, 3)} mm; the insert cuts ${n(k.least, 3)} to ${n(k.most, 3)}.`,
    remedy: 'Take an insert for this pitch.',
  }),
  'thread-diameter': (k) => ({
    message: `The surface has ⌀${n(k.found, 3)}; ${k.thread} wants ⌀${n(k.least, 3)} to ⌀${n(k.most, 3)} before it is cut.`,
    remedy: 'Choose the thread that belongs to this diameter, or correct the row of the profile.',
  }),
  'thread-depth': (k) => ({
    message: `The depth of ${n(k.typed, 3)} mm is ${n(Math.abs(k.off), 3)} ${k.off > 0 ? 'more' : 'less'} than the standard gives with this nose, ${n(k.by, 3)}.`,
    remedy: 'A sharper nose goes deeper for the same flanks. Leave the field empty to take the standard’s.',
  }),
  'thread-needs-speed': () => ({
    message:
      'A thread needs one spindle speed: with constant surface speed every pass would start elsewhere on the turn.',
    remedy: 'Set the speed in rev/min.',
  }),
  'thread-too-fast': (k) => ({
    message: `At ${n(k.speed, 0)} rev/min a lead of ${n(k.lead, 3)} mm is faster than the slide.`,
    remedy: `Turn at ${n(k.most, 0)} rev/min or less.`,
  }),
  'thread-run-in': (k) => ({
    message: `There are ${n(k.free)} mm in front of the thread; the slide needs ${n(k.needed)} to come to its speed.`,
    remedy:
      'Turn slower, make a relief there, or turn the tool over in its station: the thread is then cut the other way, with the spindle reversed.',
  }),
  'thread-run-in-short': (k) => ({
    message: `With a run-in of ${n(k.given)} mm the first turns have a wrong lead: the slide needs ${n(k.needed)}.`,
    remedy: `Give ${n(k.needed)} mm, or turn slower.`,
  }),
  'thread-run-out': (k) => ({
    message: `Only ${n(k.free)} mm of the run-out of ${n(k.given)} are free.`,
    remedy: 'Shorten the run-out, or widen the relief.',
  }),
  'thread-on-stock': (k) => ({
    message: `The thread begins in metal that stands ${n(k.over, 2)} mm above its crest; its passes are made for a depth of ${n(k.depth, 2)} mm.`,
    remedy: 'Turn the diameter first: move the thread behind the finishing of its surface.',
  }),
  'thread-relief-uncut': (k) => ({
    message: `The part has a relief where the thread ends, and metal still stands ${n(k.over, 2)} mm over the thread’s root there.`,
    remedy: 'Cut the relief first: move the thread behind it.',
  }),
  'thread-too-long': (k) => ({
    message: `A length of ${n(k.typed, 2)} mm is asked for; the picked surface is ${n(k.surface, 2)} mm long, and the thread ends there.`,
    remedy: 'Pick the surface that the thread goes on to as well, or type a shorter length.',
  }),
  'thread-first-deep': (k) => ({
    message: `The first pass is ${n(k.first, 2)} mm deep; this form bears about ${n(k.most, 2)} mm.`,
    remedy: `Take ${n(k.passes, 0)} passes or more, or a smaller first depth.`,
  }),
  'thread-short': (k) => ({
    message: `The insert meets what stands beside the thread: ${n(k.missing)} mm of its length stay without it.`,
    remedy: 'Make a relief (DIN 76) at its end, or take an insert that is narrower on that side.',
  }),
  'drill-too-short': (k) => ({
    message: `The hole is ${n(k.depth)} mm deep; the flutes are ${n(k.flutes)} mm long.`,
    remedy: 'Take a longer drill, or drill less deep.',
  }),
  'drill-holder-meets-stock': () => ({
    message: 'The drill’s holder comes to the face before the hole is deep enough.',
    remedy: 'Take a longer drill.',
  }),
  'drill-needs-pecks': (k) => ({
    message: `The hole is ${n(k.depth, 1)} mm deep, ${n(k.ratio, 1)} × the drill’s ⌀${n(k.diameter)}, and is drilled in one go.`,
    remedy: 'Peck, so that the chips come out.',
  }),
  'cutoff-meets-jaws': (k) => ({
    message: `The cutoff blade does not clear the jaws: ${n(k.missing)} mm of stick-out are missing.`,
    remedy: `Make the stick-out ${n(k.needed)} mm or more.`,
  }),
  'cutoff-not-last': (k) => ({
    message: `“${k.after}” comes after the cutoff, when the part is off.`,
    remedy: 'Move the cutoff to the end.',
  }),
  'blade-too-short': (k) => ({
    message: `The blade must reach ${n(k.needed)} mm deep; it reaches ${n(k.reach)}.`,
    remedy: 'Take a blade with more reach.',
  }),
  'not-severed': (k) => ({
    message: `The part does not come off: a web of ${n(k.left, 3)} mm stays.`,
    remedy: `Let the corner go ${n(k.needed, 2)} mm past the centre or wall.`,
  }),
  'full-feed-to-centre': (k) => ({
    message: `The blade goes to the centre with ${n(k.share, 0)} % of its feed.`,
    remedy: 'Reduce the feed by 50 to 75 % from ⌀6 to ⌀8 inward.',
  }),
  'cycle-not-possible': (k) => ({
    message: `Posted as separate moves, because the cycle cannot take this contour: ${k.reason}.`,
    remedy: 'Nothing is wrong; the path is the same in plain moves.',
  }),
  'compensation-not-possible': (k) => ({
    message: `A stretch is posted as computed tip moves without G41/G42: ${k.reason}.`,
    remedy: 'Take a smaller nose radius where wear is to be corrected at the control.',
  }),
  'pass-below-nose': (k) => ({
    message: `Passes of ${n(k.depth)} mm are thinner than the nose radius ${n(k.nose)}: the nose presses more than it cuts.`,
    remedy: 'Take fewer, deeper passes.',
  }),
  'finish-too-deep': (k) => ({
    message: `The finishing pass takes ${n(k.depth, 1)} mm on average in one cut; more than ${n(k.most)} mm is no finishing.`,
    remedy: 'Put a roughing operation over the same span before it.',
  }),
  'no-catcher': () => ({
    message: 'The part is to fall into a catcher, which the machine does not have in this channel.',
    remedy: 'Cut off without the catcher, or choose a machine that has one.',
  }),
  'feed-over-nose': (k) => ({
    message: `A feed of ${n(k.feed, 3)} mm/rev${k.element === '' ? '' : ` on ${k.element}`} is more than a nose of ${n(k.nose, 2)} can leave as a surface (at most ${n(k.most, 3)}): it cuts a thread.`,
    remedy: 'Lower the feed, or take a larger nose radius.',
  }),
  'feed-over-drill': (k) => ({
    message: `A feed of ${n(k.feed, 3)} mm/rev breaks a tool of ⌀${n(k.diameter, 2)} in ${k.material} (at most about ${n(k.most, 3)}).`,
    remedy: 'Lower the feed.',
  }),
  'speed-over-material': (k) => ({
    message: `${n(k.speed, 0)} m/min is more than twice what this kind of cut bears in ${k.material} (about ${n(k.usual, 0)}): the edge burns.`,
    remedy: 'Lower the speed.',
  }),
  'feed-over-blade': (k) => ({
    message: `A feed of ${n(k.feed, 3)} mm/rev is much for a blade ${n(k.width, 2)} mm wide (at most ${n(k.most, 3)}).`,
    remedy: 'Lower the feed, or take a wider blade.',
  }),
  'part-bends': (k) => ({
    message: `The work bends away under about ${n(k.force, 0)} N: ${k.where} it comes out ${n(k.bend, 3)} mm too large.`,
    remedy: 'Take less off in this pass, add a spring pass, use a sharper nose, or support the work.',
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
  'power-over': (k) => ({
    message: `The cut asks for ${n(k.power, 1)} kW; the spindle gives ${n(k.available, 1)} kW.`,
    remedy: 'Lower the depth, feed or surface speed.',
  }),
  'depth-over-edge': (k) => ({
    message: `A depth of ${n(k.depth)} mm is more than the insert’s edge should take (${n(k.edge)} mm).`,
    remedy: 'Lower the depth per pass.',
  }),
  'too-rough': (k) => ({
    message: `This feed leaves Ra ${n(k.made)} µm; Ra ${n(k.asked)} is asked for.`,
    remedy: `Feed at most ${n(k.feed, 3)} mm/rev, or take a larger nose radius.`,
  }),
  'coolant-wanted': (k) => ({
    message: `${k.material} is cut dry.`,
    remedy: 'Switch the coolant on: this material keeps its heat in the edge.',
  }),
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
  'grip-on-thread': (k) => ({
    message: `The jaws close on the thread of “${k.operation}” over ${n(k.length)} mm; hard jaws spoil it.`,
    remedy: 'Grip another place, put a split sleeve between, or cut the thread in the last holding.',
  }),
  'piece-not-off': (k) => ({
    message: `“${k.holding}” takes what “${k.from}” leaves, but nothing comes off the bar there.`,
    remedy: `Add a cutoff at the end of “${k.from}”.`,
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
  'spindle-not-commanded': (k) => ({
    message: `Channel ${k.channel} cannot command ${k.spindle}.`,
    remedy: 'Move the operation to a channel that does.',
  }),
  'cannot-synchronise': (k) => ({
    message: `${k.machine} cannot turn its two spindles in step, so a turning part cannot be handed over.`,
    remedy: 'Turn the part round by hand between two holdings, or choose another machine.',
  }),
  'device-missing': (k) => ({
    message: `Channel ${k.channel} commands no ${k.device}.`,
    remedy: 'Move the operation to a channel that does, or choose a machine that has one.',
  }),
  'no-limited-feed': (k) => ({
    message: `${k.machine} cannot limit the force with which a slide pushes.`,
    remedy: 'Switch “Limited force” off; the slide then stops at its place.',
  }),
  'limits-crossed': (k) => ({
    message: `${k.axis} of ${k.of} cannot travel: its least place, ${n(k.min)}, is not below its greatest, ${n(k.max)}.`,
    remedy: 'Correct the machine’s file and take the machine into the job again.',
  }),
  'no-bar': () => ({
    message: 'A bar is to be fed where no bar is held.',
    remedy: 'Move it to the side that holds the bar.',
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
  'tool-meets-spindle': (k) => ({
    message: k.stands
      ? `Its tool still stands where ${k.what === 'work' ? `the work in “${k.spindle}”` : `“${k.spindle}”`} comes at ${n(k.at, 1)} s.`
      : `At ${n(k.at, 1)} s its tool meets ${k.what === 'work' ? `the work in “${k.spindle}”` : `“${k.spindle}”`}.`,
    remedy: k.stands
      ? 'Change tools further out, or let the spindle wait.'
      : `Let it come when “${k.spindle}” is elsewhere, or change tools nearer to the work.`,
  }),
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
  'neighbour-meets': (k) => ({
    message: `“${k.tool}” in ${k.place} comes along beside the working tool and meets ${k.what}.`,
    remedy: 'Put it into a station further away, or use a shorter tool.',
  }),
  'tool-change-close': (k) => ({
    message: `When the turret indexes, “${k.tool}” comes within ${n(k.gap)} mm of the metal (at least ${n(k.least)} wanted).`,
    remedy: `Move the tool change position to Z${n(k.needed, 0)} or further.`,
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
};

export const wordFinding = (f: Finding): Wording => {
  const words = (FINDING_WORDS[f.code] as (k: Finding['numbers']) => Wording)(f.numbers);
  return f.time ? { ...words, message: `At number ${f.time.number} of ${f.time.count}: ${words.message}` } : words;
};
