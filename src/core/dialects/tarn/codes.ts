import { type Finding, note } from '../../findings';
import {
  type ControlSetup,
  type Device,
  isCalled,
  type Machine,
  type MachineCodes,
  mainSpindle,
  secondSpindle,
} from '../../machine';
import type { CodeLine } from '../family';
import type { Dialect } from './data';

/** What calls for a device where the document names none: it is known to the control by this name. */
const BAR_FEEDER = 'bar feeder';
/** Codes that mean the same on every control of the family, and can be given to nothing else. */
const OWN = new Map([
  ['M2', 'the end of the program'],
  ['M98', 'the call of a sub-program'],
  ['M99', 'the end of a sub-program'],
]);

/** Names that a control has for parts of a machine, and what they are called in one machine. */
const ownNames = (machine: Machine): ReadonlyMap<string, string> => {
  const second = secondSpindle(machine);
  const catcher = machine.devices.find((d) => d.kind === 'catcher');
  return new Map([
    ['main', mainSpindle(machine)],
    ...(second === null ? [] : [['sub', second] as const]),
    ...(catcher ? [['catcher', catcher.id] as const] : []),
  ]);
};

/** A device and what it does, `chuck main open`, with the control's name of the part replaced by the machine's. */
const renamedDevice = (name: string, names: ReadonlyMap<string, string>): string => {
  const words = name.split(' ');
  return words.map((w, i) => (i < words.length - 1 ? (names.get(w) ?? w) : w)).join(' ');
};

/** What a device that is called on for itself does: by its kind, and by the machine's own codes for it. */
const callsOf = (machine: Machine, { id, kind }: Device): string[] => {
  const own = Object.keys(machine.codes?.devices ?? {}).filter(
    (k) => k.startsWith(`${id} `) && k.length > id.length + 1,
  );
  const usual = kind === 'catcher' ? ['out', 'in'] : ['on', 'off'];
  return [...new Set([...usual.map((w) => `${id} ${w}`), ...own])];
};

/** All that a machine can be asked to do by a device, as its codes name it. */
const actionsOf = (machine: Machine): string[] => [
  ...machine.spindles.flatMap((s) => [`chuck ${s.id} open`, `chuck ${s.id} close`, `ejector ${s.id} push`]),
  ...machine.devices.flatMap((d) => (isCalled(d) ? callsOf(machine, d) : [])),
  ...machine.devices.flatMap((d) =>
    d.kind === 'tailstock'
      ? ['tailstock forward', 'tailstock back']
      : d.kind === 'steady'
        ? ['steady close', 'steady open']
        : [],
  ),
  `${BAR_FEEDER} feed`,
];

const TURNINGS = ['forward', 'reverse', 'stop'] as const;
const PAIR = ['follow', 'leave', 'limit', 'unlimit'] as const;
const PAIR_WORDS = { follow: 'follows', leave: 'alone again', limit: 'limited force', unlimit: 'full force' } as const;
type Turnings = Dialect['spindleCodes'][string];
type Second = NonNullable<Dialect['second']>;

/** Codes of which all are there, or null: a spindle that could be told to start and not to stop is not commanded. */
const complete = <T extends object>(codes: Partial<T>, keys: readonly (keyof T)[]): T | null =>
  keys.every((k) => codes[k] !== undefined) ? (codes as T) : null;

/** Retract of a roughing cycle in one block where nobody has said it, mm. */
const USUAL_RETRACT = 0.5;

/** A control with number format, cycles and waits as they are set up in one machine. */
const setUp = (d: Dialect, setup: ControlSetup): Dialect => {
  const { decimals = d.decimals, feedDecimals = d.feedDecimals, waitBase = d.wait.base } = setup;
  const { roughing = d.cycles.roughing, peck = d.cycles.peck } = setup;
  const threading = setup.threading === 'none' ? null : (setup.threading ?? d.cycles.threading);
  // a head of two blocks says the retract itself
  const retract = roughing === 'one-block' ? (setup.retract ?? d.cycles.retract ?? USUAL_RETRACT) : null;
  return {
    ...d,
    decimals,
    feedDecimals,
    cycles: { roughing, retract, peck, threading },
    wait: { ...d.wait, base: waitBase },
  };
};

/** A control as it is built into one machine: its own codes, under the machine's names, and what the machine's data says otherwise. */
export const inMachine = (dialect: Dialect, machine: Machine): Dialect => {
  const names = ownNames(machine);
  const main = mainSpindle(machine);
  const { codes = {} } = machine;
  const there = new Set(actionsOf(machine));
  const spindles = new Map<string, Partial<Turnings>>([
    [main, { forward: dialect.spindleForward, reverse: dialect.spindleReverse, stop: dialect.spindleStop }],
    ...Object.entries(dialect.spindleCodes).map(([s, c]) => [names.get(s) ?? s, c] as const),
  ]);
  for (const [s, own] of Object.entries(codes.spindles ?? {})) spindles.set(s, { ...spindles.get(s), ...own });
  const all = new Map(
    [...spindles].flatMap(([s, c]) => {
      const whole = complete<Turnings>(c, TURNINGS);
      return whole ? [[s, whole] as const] : [];
    }),
  );
  const own = all.get(main);
  all.delete(main);
  const { second } = dialect;
  return {
    ...setUp(dialect, machine.setup ?? {}),
    coolantOn: codes.coolantOn ?? dialect.coolantOn,
    coolantOff: codes.coolantOff ?? dialect.coolantOff,
    stop: codes.stop ?? dialect.stop,
    optionalStop: codes.optionalStop ?? dialect.optionalStop,
    spindleForward: own?.forward ?? dialect.spindleForward,
    spindleReverse: own?.reverse ?? dialect.spindleReverse,
    spindleStop: own?.stop ?? dialect.spindleStop,
    spindleCodes: Object.fromEntries(all),
    second: complete<Second>(
      {
        spindle: secondSpindle(machine) ?? undefined,
        ...second,
        ...(second && { spindle: names.get(second.spindle) ?? second.spindle }),
        ...codes.second,
      },
      ['spindle', 'letter', ...PAIR],
    ),
    devices: {
      ...Object.fromEntries(
        Object.entries(dialect.devices)
          .map(([k, c]) => [renamedDevice(k, names), c] as const)
          // a code for what the machine does not have is free for something else
          .filter(([k]) => there.has(k)),
      ),
      ...codes.devices,
    },
  };
};

/** Every code M of a control with what it does, in words. */
const meanings = (d: Dialect): (readonly [string, string])[] => [
  ...OWN,
  [d.programEnd, 'the end of the program'],
  [d.stop, 'a stop'],
  [d.optionalStop, 'an optional stop'],
  [d.coolantOn, 'coolant on'],
  [d.coolantOff, 'coolant off'],
  [d.spindleForward, 'the main spindle forward'],
  [d.spindleReverse, 'the main spindle in reverse'],
  [d.spindleStop, 'the main spindle’s stop'],
  ...Object.entries(d.spindleCodes).flatMap(([s, c]) => [
    [c.forward, `spindle ${s} forward`] as const,
    [c.reverse, `spindle ${s} in reverse`] as const,
    [c.stop, `spindle ${s} stop`] as const,
  ]),
  ...(d.second
    ? ([
        [d.second.follow, `spindle ${d.second.spindle} following`],
        [d.second.leave, `spindle ${d.second.spindle} no longer following`],
        [d.second.limit, 'limited force'],
        [d.second.unlimit, 'full force'],
      ] as const)
    : []),
  ...Object.entries(d.devices).map(([name, code]) => [code, name] as const),
];

const numberOf = (code: string): number => Number(code.slice(1));

/** What is wrong with the codes of a machine: two meanings of one, one that marks waits, a device that is not there. */
export const codeFindings = (dialect: Dialect, machine: Machine): Finding[] => {
  const built = inMachine(dialect, machine);
  const found: Finding[] = [];
  const known = new Map<number, string>();
  for (const [code, what] of meanings(built)) {
    const first = known.get(numberOf(code));
    if (first === undefined) known.set(numberOf(code), what);
    else found.push(note('blocking', 'code-twice', null, { code, first, second: what }));
    const { base } = built.wait;
    if (numberOf(code) > base && numberOf(code) < base + 900)
      found.push(note('blocking', 'code-marks', null, { code, what, from: base + 1, to: base + 899 }));
  }
  const actions = actionsOf(machine);
  const spindles = machine.spindles.map((s) => s.id);
  for (const name of Object.keys(machine.codes?.devices ?? {}))
    if (!actions.includes(name))
      found.push(note('blocking', 'code-for-nothing', null, { name, known: actions.join(', ') }));
  for (const name of [...Object.keys(machine.codes?.spindles ?? {}), machine.codes?.second?.spindle ?? spindles[0]])
    if (!spindles.includes(name))
      found.push(note('blocking', 'code-for-nothing', null, { name, known: spindles.join(', ') }));
  if (built.second && built.axes.some((a) => a === built.second?.letter))
    found.push(note('blocking', 'code-letter', null, { letter: built.second.letter, control: built.name }));
  return found;
};

const SINGLE = [
  ['coolant on', 'coolantOn'],
  ['coolant off', 'coolantOff'],
  ['stop', 'stop'],
  ['optional stop', 'optionalStop'],
] as const;

/** Where each code of a machine stands in its data, by the name under which it is listed. */
const placesOf = (machine: Machine): Map<string, readonly string[]> => {
  const second = machine.codes?.second?.spindle ?? secondSpindle(machine);
  return new Map<string, readonly string[]>([
    ...machine.spindles.flatMap((s) => TURNINGS.map((t) => [`spindle ${s.id} ${t}`, ['spindles', s.id, t]] as const)),
    ...(second === null ? [] : PAIR.map((k) => [`spindle ${second} ${PAIR_WORDS[k]}`, ['second', k]] as const)),
    ...actionsOf(machine).map((a) => [a, ['devices', a]] as const),
    ...SINGLE.map(([name, key]) => [name, [key]] as const),
  ]);
};

/** A value within plain data, by the names on the way to it. */
const within = (data: unknown, way: readonly string[]): unknown =>
  way.reduce<unknown>(
    (at, k) => (typeof at === 'object' && at !== null ? (at as Record<string, unknown>)[k] : undefined),
    data,
  );

/** Codes of one machine, also of what has none yet. */
export const codeLines = (dialect: Dialect, machine: Machine): CodeLine[] => {
  const d = inMachine(dialect, machine);
  const { spindleForward: forward, spindleReverse: reverse, spindleStop: stop } = d;
  const spindles = { ...d.spindleCodes, [mainSpindle(machine)]: { forward, reverse, stop } };
  const built = { ...d, spindles };
  return [...placesOf(machine)].map(([name, way]) => {
    const own = within(machine.codes, way);
    return { name, code: String(own ?? within(built, way) ?? ''), own: own !== undefined };
  });
};

type Data = Readonly<Record<string, unknown>>;

/** Data with a value put at a place, or taken from there with null; a group that says nothing is none. */
const withValue = (data: Data, [key, ...rest]: readonly string[], value: string | null): Data => {
  const { [key]: old, ...others } = data;
  const now = rest.length === 0 ? value : withValue((old ?? {}) as Data, rest, value);
  return now === null || Object.keys(now).length === 0 ? others : { ...data, [key]: now };
};

/** The codes of a machine with one of them given, or left to the control with null. */
export const withCode = (machine: Machine, name: string, code: string | null): MachineCodes => {
  const { codes = {} } = machine;
  const way = placesOf(machine).get(name);
  return way ? withValue(codes, way, code) : codes;
};
