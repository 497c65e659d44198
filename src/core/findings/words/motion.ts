import { n, type Words } from './wording';

const reaching = ({ along, across }: { readonly along: number; readonly across: number }): string =>
  `it reaches in ${n(along)} mm along Z and ${n(across)} mm in radius`;

/** What a tool meets on its way, and where a slide ends. */
export const motionWords = {
  gouge: (k) => ({
    message: `The tool cuts ${n(k.depth, 3)} mm into the finished part.`,
    remedy: 'Raise the depth or limit of this operation, or choose a tool whose shape fits the contour.',
  }),
  'rapid-in-stock': (k) => ({
    message: `A rapid to ⌀${n(k.tip)} Z${n(k.z)} runs through metal.`,
    remedy: 'Enlarge the safe distance, or let an earlier operation clear this place.',
  }),
  'thread-in-stock': (k) => ({
    message: `On its passes the threading insert runs ${n(k.depth)} mm into metal that stands beside the thread.`,
    remedy: 'Turn that metal away first: a shoulder, a relief, or the bar behind the part.',
  }),
  'holder-meets-stock': (k) => ({
    message: `The tool holder meets the stock, ${n(k.thickness)} mm deep.`,
    remedy: 'Choose a tool with more clearance or a longer reach, or rough this place first.',
  }),
  'tool-meets-jaws': (k) => ({
    message: `The tool meets the jaws: ${reaching(k)}.`,
    remedy: 'Give the bar more stick-out, or set a back limit in front of the jaws.',
  }),
  'tool-meets-chuck': (k) => ({
    message: `The tool meets the chuck: ${reaching(k)}.`,
    remedy: 'Give the bar more stick-out, or set a back limit in front of the chuck.',
  }),
  'tool-meets-support': (k) => ({
    message: `The tool, or its holder, meets the support of the work: ${reaching(k)}.`,
    remedy:
      'Keep its span away from there with a limit, do it before the support comes, or take the support away before.',
  }),
  'turret-meets-support': (k) => ({
    message: `The turret, or a tool beside this one in its block, meets the support of the work: ${reaching(k)}.`,
    remedy: 'Use a tool with a longer overhang, or take the support away before.',
  }),
  'turret-meets-stock': (k) => ({
    message: `The turret, or a tool beside this one in its block, meets the stock: ${reaching(k)}.`,
    remedy: 'Let the tool stick out further by as much, or end its path earlier: its run-on behind, or a limit.',
  }),
  'turret-meets-jaws': (k) => ({
    message: `The turret, or a tool beside this one in its block, meets the jaws: ${reaching(k)}.`,
    remedy: 'Use a tool with a longer overhang, or more stick-out.',
  }),
  'turret-meets-chuck': (k) => ({
    message: `The turret, or a tool beside this one in its block, meets the chuck: ${reaching(k)}.`,
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
} satisfies Partial<Words>;
