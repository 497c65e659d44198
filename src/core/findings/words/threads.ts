import { n, type Words } from './wording';

/** Threads. */
export const threadWords = {
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
  'thread-taper': (k) => ({
    message: `${k.thread} runs 1:16: over ${n(k.length, 2)} mm its diameter grows by ${n(k.wanted, 2)} mm; that of the surface by ${n(k.found, 2)}.`,
    remedy: `Draw the surface as a cone that begins in front at ⌀${n(k.front, 2)}, or choose a parallel thread.`,
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
    message: `The passes have ${n(k.free)} mm to run in before the thread; the slide needs ${n(k.needed)} to come to its speed.`,
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
  'thread-behind': (k) => ({
    message: `Behind the part the bar stands in the insert’s way: ${n(k.missing)} mm of the thread stay without it.`,
    remedy: `Let what turns this surface run on ${n(k.further)} mm further behind (Span ends), and drill as deep.`,
  }),
} satisfies Partial<Words>;
