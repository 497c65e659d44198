import { n, type Words } from './wording';

/** Turning, grooves, holes and cutting off. */
export const cuttingWords = {
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
  'cycle-own-way': (k) => ({
    message: `As a cycle the control ${k.what}; what is set here for that does not count.`,
    remedy: 'Post it as moves if it has to be as it is set.',
  }),
  'bar-cuts-outward': (k) => ({
    message: `${k.tool} cuts out of the bore: across it the bar would stand in front of its edge.`,
    remedy: 'Let the passes run along Z, or take a bar that cuts toward the chuck.',
  }),
  'direction-fixed': (k) => ({
    message: `Passes ${k.way} run one way only; the direction that is set does not count.`,
    remedy: 'Set the direction back to “as the tool cuts”, or let the passes run along Z.',
  }),
  'edge-trails': (k) => ({
    message: `In this direction the tool cuts with its other edge, which stands at ${n(k.angle, 0)}° to the feed.`,
    remedy: 'Good for a light cut; for more take a tool made for this direction.',
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
  'drill-too-short': (k) => ({
    message: `The hole is ${n(k.depth)} mm deep; the flutes are ${n(k.flutes)} mm long.`,
    remedy: 'Take a longer drill, or drill less deep.',
  }),
  'drill-holder-meets-stock': () => ({
    message: 'The drill’s holder comes to the face before the hole is deep enough.',
    remedy: 'Take a longer drill.',
  }),
  'flat-drill-solid': (k) => ({
    message: `A flat-bottom drill of ⌀${n(k.diameter)} goes ${n(k.depth)} mm deep into solid metal, where it runs off.`,
    remedy: 'Drill first with a pointed drill, and square the bottom with this one.',
  }),
  'drill-hardly-deeper': (k) => ({
    message: `There is a hole already; at its full ⌀${n(k.diameter)} this drill makes it ${n(k.deeper)} mm deeper.`,
    remedy: 'Leave the bottom to a boring bar, or take a first drill whose point has its angle.',
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
  'finish-buried': (k) => ({
    message: `More than ${n(k.most, 1)} mm of metal lie over the contour, all that the edge takes in one pass along X; what stays above would meet the holder.`,
    remedy: 'Put a roughing operation over the same span before it.',
  }),
  'finish-too-deep': (k) => ({
    message: `The finishing pass takes ${n(k.depth, 1)} mm on average in one cut; more than ${n(k.most)} mm is no finishing.`,
    remedy: 'Put a roughing operation over the same span before it.',
  }),
} satisfies Partial<Words>;
