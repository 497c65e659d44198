import { n, type Words } from './wording';

/** Tools and where they stand. */
export const toolWords = {
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
  'neighbour-meets': (k) => ({
    message: `“${k.tool}” in ${k.place} comes along beside the working tool and meets ${k.what}.`,
    remedy: 'Put it into a station further away, or use a shorter tool.',
  }),
} satisfies Partial<Words>;
