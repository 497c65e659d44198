import { n, type Words } from './wording';

/** What a cut asks of machine, tool and work. */
export const loadWords = {
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
} satisfies Partial<Words>;
