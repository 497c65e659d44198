type None = Record<string, never>;
/** Where a slide would have to stand and where it ends, mm or degrees. */
type Travel = { axis: string; position: number; min: number; max: number; over: number };

/** How far one thing reaches into another where it first does, along the axis and across it, mm. */
type Overlap = { along: number; across: number };

/** Every finding that the core can make, with the numbers that its sentence needs (mm, degrees, kW, rev/min as named). */
export interface FindingNumbers {
  // motion against metal and machine
  gouge: { depth: number };
  'rapid-in-stock': { tip: number; z: number };
  'holder-meets-stock': { thickness: number };
  'tool-meets-jaws': Overlap;
  'tool-meets-chuck': Overlap;
  'turret-meets-stock': Overlap;
  'turret-meets-jaws': Overlap;
  'turret-meets-chuck': Overlap;
  'tool-meets-support': Overlap;
  'turret-meets-support': Overlap;
  'travel-x': Travel;
  'travel-z': Travel;
  'travel-axis': Travel;
  'axis-missing': { axis: string; carrier: string };
  'axis-not-cut': { axes: string };
  /** `coded`: a code in the machine's data would cure it. */
  'event-not-run': { what: string; coded: boolean };
  // tools and where they stand
  'no-tool': None;
  'tool-unknown': { tool: string };
  'tool-not-in-station': { tool: string };
  'tool-twice': { tool: string; places: string };
  'tool-on-other-carrier': { tool: string; carrier: string; wanted: string };
  'tool-unreadable': { found: string; reason: string };
  'wrong-tool': { needs: string; found: string };
  'wrong-hand': { needs: string; found: string };
  'way-up-not-possible': { tool: string };
  'duplicate-station': { offset: number; stations: string };
  'station-missing': { station: string; stations: number; carrier: string };
  'stick-out-of-tool': { stickOut: number; least: number };
  'bar-overhang': { ratio: number; most: number; bar: string };
  // machine and channels
  'dialect-unknown': { dialect: string };
  'spindle-unknown': { spindle: string };
  'channel-unknown': { channel: string };
  'channel-differs': { said: string; listed: string };
  unsynchronised: { other: string; channels: string };
  'mark-partner': { channel: string; mark: number; missing: string };
  deadlock: { channel: string; mark: number; channels: string };
  // the cut
  'speed-clamp': { diameter: number; clamp: number; reached: number };
  'face-below-part': { target: number; front: number };
  'nothing-to-cut': None;
  'not-approachable': None;
  'span-lost': None;
  'no-bore': None;
  'behind-jaws': { asked: number; jaws: number };
  'limits-empty': { front: number; back: number };
  'bore-undrilled': { needed: number };
  'bore-shallow': { missing: number };
  'bar-too-thick': { missing: number; bore: number };
  'no-slot-behind': { face: number; rim: number };
  'slot-too-narrow': { missing: number; tool: string };
  'centre-mouth': { mouth: number; least: number; most: number };
  // grooves
  'form-does-not-fit': { left: number };
  'groove-narrow': { width: number; blade: number; depth: number };
  'groove-not-round': { flat: number };
  'groove-plunged': { reason: string };
  'face-groove-range': { inner: number; outer: number; least: number; most: number };
  // holes
  'tap-hole': { thread: string; drill: number };
  'tap-hole-wide': { thread: string; drill: number };
  'tap-float': { needed: number; most: number };
  'tap-no-room': { needed: number; free: number; chamfer: number };
  'ream-hole': { diameter: number; least: number; deep: number };
  'ream-thin': { diameter: number; least: number };
  // threads
  'thread-unknown': { name: string };
  'spiral-unknown': { name: string };
  'thread-flanks': { thread: string; needs: number; found: number };
  'thread-nose': { thread: string; nose: number; most: number };
  'thread-pitch': { thread: string; pitch: number; least: number; most: number };
  'thread-diameter': { thread: string; found: number; least: number; most: number };
  'thread-depth': { typed: number; by: number; off: number };
  'thread-needs-speed': None;
  'thread-too-fast': { speed: number; most: number; lead: number };
  'thread-run-in': { free: number; needed: number };
  'thread-run-in-short': { given: number; needed: number };
  'thread-run-out': { given: number; free: number };
  'thread-short': { missing: number };
  'thread-on-stock': { over: number; depth: number };
  'thread-relief-uncut': { over: number };
  'thread-too-long': { typed: number; surface: number };
  'thread-first-deep': { first: number; most: number; passes: number };
  'drill-too-short': { depth: number; flutes: number };
  'drill-holder-meets-stock': None;
  'drill-needs-pecks': { depth: number; diameter: number; ratio: number };
  'cutoff-meets-jaws': { missing: number; needed: number };
  'cutoff-not-last': { after: string };
  'blade-too-short': { needed: number; reach: number };
  'not-severed': { left: number; needed: number };
  'full-feed-to-centre': { share: number };
  'cycle-not-possible': { reason: string };
  'compensation-not-possible': { reason: string };
  'pass-below-nose': { depth: number; nose: number };
  'finish-too-deep': { depth: number; most: number };
  'finish-buried': { most: number };
  'no-catcher': None;
  'feed-over-blade': { feed: number; most: number; width: number };
  'feed-over-nose': { feed: number; nose: number; most: number; element: string };
  'feed-over-drill': { feed: number; most: number; diameter: number; material: string };
  'speed-over-material': { speed: number; usual: number; material: string };
  'part-bends': { bend: number; force: number; where: string };
  'remark-empty': None;
  'device-unknown': { action: string; known: string };
  'support-no-work': { device: string };
  'support-no-centre': None;
  'support-faces-away': { spindle: string };
  'support-hole-large': { point: number };
  'support-travel': { device: string; place: number; min: number; max: number };
  'support-uneven': { least: number; most: number; z: number };
  'support-not-on': { device: string };
  'support-pushes': None;
  'support-in-the-way': None;
  'steady-wanted': { ratio: number; length: number; diameter: number };
  'power-over': { power: number; available: number };
  'depth-over-edge': { depth: number; edge: number };
  'too-rough': { made: number; asked: number; feed: number };
  'coolant-wanted': { material: string };
  'bad-number': { field: string; value: number; must: string };
  formula: { field: string; reason: string };
  internal: { reason: string };
  'too-much-work': { what: string; number: number; most: number };
  // holding
  'stock-too-small': { stock: number; part: number };
  'stick-out-short': { missing: number; needed: number };
  unsupported: { ratio: number; length: number; diameter: number };
  'grip-short': { grip: number; least: number };
  'grip-beyond-piece': { grip: number; length: number };
  'grip-on-air': { contact: number; grip: number };
  'second-differs': { first: string; second: string; what: string };
  'second-alone': { tool: string };
  'second-repeated': Record<string, never>;
  'grip-on-thread': { operation: string; length: number };
  'piece-not-off': { holding: string; from: string };
  'no-bar': Record<string, never>;
  // the machine itself
  'machine-twice': { id: string; list: string };
  'machine-parent': { link: string; parent: string };
  'machine-no-parent': { link: string };
  'machine-loop': { link: string };
  'machine-direction': { link: string; length: number };
  'machine-open-travel': { axis: string; link: string };
  'machine-home': { axis: string; link: string; home: number; min: number; max: number };
  'machine-reference': { what: string; name: string; known: string };
  'machine-word': { word: string; channel: string; links: string };
  'code-twice': { code: string; first: string; second: string };
  'code-marks': { code: string; what: string; from: number; to: number };
  'code-for-nothing': { name: string; known: string };
  'code-letter': { letter: string; control: string };
  'machine-commanded': { carrier: string; by: string };
  'machine-no-way': { carrier: string; spindle: string; axes: string };
  'out-of-reach': { carrier: string; spindle: string; others: string };
  'spindle-not-commanded': { spindle: string; channel: string };
  'cannot-synchronise': { machine: string };
  'device-missing': { device: string; channel: string };
  'no-limited-feed': { machine: string };
  'limits-crossed': { axis: string; of: string; min: number; max: number };
  'faces-away': { tool: string; spindle: string };
  'handover-room': { room: number; needed: number };
  'handover-slide': { at: number; min: number; max: number };
  'handover-unknown': { holding: string };
  'before-handover': { holding: string; at: number; ready: number };
  'cutoff-before-grip': { holding: string };
  'no-handover': { holding: string; from: string };
  'no-withdraw': { holding: string };
  'part-stays': { holding: string };
  'tools-meet': { other: string; channel: string; at: number };
  'tool-meets-spindle': { spindle: string; what: 'spindle' | 'work'; at: number; stands: boolean };
  'out-of-turn': { other: string; at: number; done: number; reason: string };
  'after-bar-feed': { other: string; at: number; done: number };
  'handover-number': { field: string; value: number; least: number; most: number; unit: string };
  'spindle-conflict': { spindle: string; other: string };
  'same-zero': { code: string; holdings: string };
  'grip-lost': { speed: number; left: number; force: number; most: number };
  'neighbour-meets': { tool: string; place: string; what: string };
  'safe-distance-small': { distance: number; least: number };
  'tool-change-close': { tool: string; gap: number; least: number; needed: number };
  // repeats
  'repeat-in-the-way': { repeat: string };
  'repeat-parted': { repeat: string; between: string };
  'repeat-holdings': { repeat: string };
  'repeat-no-pitch': { repeat: string; pitch: number };
  'repeat-first': { repeat: string; first: number; count: number };
  'repeat-zeros': { repeat: string; count: number; most: number };
  'repeat-pitch': { repeat: string; pitch: number; least: number };
  'repeat-too-long': { count: number; needed: number; stickOut: number; fits: number };
  // the whole job
  'part-missing': None;
  leftover: { volume: number; thickness: number; copy: number; count: number };
  'metal-missing': { volume: number; thickness: number; copy: number; count: number };
  'nothing-made': { volume: number };
}

export type FindingCode = keyof FindingNumbers;
