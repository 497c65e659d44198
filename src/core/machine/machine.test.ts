import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoMachine, flatMachineFile, jointOf, machineFile, reachBetween } from '../../../tests/fixtures/machines';
import { carryPoint, inverse } from '../frames';
import { add3, type Vec3 } from '../geometry';
import type { Machine } from './machine';
import { indexTime, powerAt, trapezoidTime } from './rates';
import { channelOfCarrier, jointAt, reachOf, standsBelow } from './reach';
import { readMachine } from './read';
import { chainTo, facesBack, linkFrame, spindleFrame, spindleStand } from './tree';

const IDS = ['fellgate-t2', 'fellgate-t2l', 'fellgate-long', 'fellgate-tt', 'fellgate-b6', 'fellgate-slide'] as const;
const machines = Object.fromEntries(IDS.map((id) => [id, demoMachine(id)])) as Record<(typeof IDS)[number], Machine>;
const words = (machine: Machine, carrier: string, spindle: string): string =>
  Object.values(reachBetween(machine, carrier, spindle).axes)
    .map((a) => `${a.axis}=${a.word}:${a.link}`)
    .join(' ');

describe('the tree of links', () => {
  it('leads from the bed out to the tool', () => {
    expect(chainTo(machines['fellgate-b6'], 'head-b').map((l) => l.id)).toEqual([
      'bed',
      'head-z',
      'head-y',
      'head-x',
      'head-b',
    ]);
  });
  it('carries a swivelling head about its own B axis, wherever its slides stand', () => {
    const frame = linkFrame(machines['fellgate-b6'], 'head-b', { 'head-x': 200, 'head-z': 300, 'head-b': 90 });
    // B+ leads Z toward X: what hung 50 below the pivot points toward +Z
    const [x, y, z] = carryPoint(frame, [-50, 0, 0]);
    expect([x, y, z].map((v) => Math.round(v * 1e9) / 1e9)).toEqual([200, 0, 350]);
  });
  it('puts spindles where they work, and says how far they slide', () => {
    const tt = machines['fellgate-tt'];
    expect(spindleStand(tt, 'main')).toEqual({ face: 0, direction: 1, slide: null });
    expect(spindleStand(tt, 'sub')).toMatchObject({ face: 620, direction: -1, slide: { min: 40, max: 640 } });
    expect([facesBack(tt, 'main'), facesBack(tt, 'sub'), spindleStand(tt, 'ghost')]).toEqual([false, true, null]);
    expect(spindleStand(machines['fellgate-slide'], 'main')).toMatchObject({
      face: -60,
      slide: { min: -260, max: -50 },
    });
  });
});

describe('how a carrier comes to the work', () => {
  it('has the words of its channel, and only the axes that it commands', () => {
    expect(words(machines['fellgate-t2'], 'upper', 'main')).toBe('X=X:upper-x Z=Z:upper-z');
    expect(words(machines['fellgate-t2l'], 'upper', 'main')).toBe('X=X:upper-x Z=Z:upper-z C=C:main-c');
    // the C of the sub-spindle belongs to the other channel
    expect(words(machines['fellgate-tt'], 'upper', 'sub')).toBe('X=X:upper-x Y=Y:upper-y Z=Z:upper-z');
    expect(words(machines['fellgate-tt'], 'lower', 'sub')).toBe('X=X:lower-x Z=Z:lower-z C=C:sub-c');
    expect(words(machines['fellgate-b6'], 'head', 'main')).toBe(
      'X=X:head-x Y=Y:head-y Z=Z:head-z B=B:head-b C=C:main-c',
    );
    // the headstock brings the work along Z; the sub-spindle brings it along both
    expect(words(machines['fellgate-slide'], 'gang', 'main')).toBe('X=X:gang-x Y=Y:gang-y Z=Z:headstock C=C:main-c');
    expect(words(machines['fellgate-slide'], 'back', 'sub')).toBe('X=X:sub-x Y=Y:back-y Z=Z:sub-z C=C:sub-c');
  });
  it('does not come to a spindle that the machine says it does not reach', () => {
    const slide = machines['fellgate-slide'];
    expect([reachOf(slide, 'gang', 'sub'), reachOf(slide, 'back', 'main'), reachOf(slide, 'ghost', 'main')]).toEqual([
      null,
      null,
      null,
    ]);
  });
  it('stands where its slides lead it: lower turrets below, the work 30 mm in front of a chuck at its place', () => {
    const tt = machines['fellgate-tt'];
    const z = (c: string, s: string): number => {
      const drive = reachBetween(tt, c, s).axes.Z;
      return drive ? jointAt(drive, 30) : Number.NaN;
    };
    expect([z('upper', 'main'), z('lower', 'sub')]).toEqual([30, 590]);
    expect([standsBelow(tt, '1'), standsBelow(tt, '2')]).toEqual([false, true]);
    const slide = machines['fellgate-slide'];
    const gang = reachBetween(slide, 'gang', 'main', '3');
    // 150 of the bar in front of the collet at the bush: the headstock stands 150 behind it, and two pitches bring tool 3
    expect(gang.axes.Z && jointAt(gang.axes.Z, 150)).toBe(-150);
    expect(gang.axes.Y && jointAt(gang.axes.Y, 0)).toBe(44);
    const back = reachBetween(slide, 'back', 'sub');
    expect(back.axes.X && jointAt(back.axes.X, 6)).toBe(76);
    // the post stands at Z 110, and the sub-spindle's work looks toward it from beyond
    expect(back.axes.Z && jointAt(back.axes.Z, 20)).toBe(130);
  });
  it('agrees with the frames: joints set by the coordinates put the tool there, seen from the spindle', () => {
    const pairs = Object.values(machines).flatMap((m) =>
      m.carriers.flatMap((c) => m.spindles.flatMap((s) => (reachOf(m, c.id, s.id) ? [{ m, c, s }] : []))),
    );
    expect(pairs.length).toBe(14);
    const place = fc.double({ min: -30, max: 200, noNaN: true });
    fc.assert(
      fc.property(fc.constantFrom(...pairs), place, place, fc.integer({ min: 1, max: 4 }), ({ m, c, s }, x, z, k) => {
        const { axes, below } = reachBetween(m, c.id, s.id, String(k));
        if (!axes.X || !axes.Z) throw new Error('no axes');
        const places = {
          [axes.X.link]: jointAt(axes.X, x),
          [axes.Z.link]: jointAt(axes.Z, z),
          ...(axes.Y ? { [axes.Y.link]: jointAt(axes.Y, 0) } : {}),
        };
        const station = c.places[k] ?? ([0, 0, 0] as Vec3);
        const tool = carryPoint(linkFrame(m, c.link, places), add3(c.at, station));
        const seen = carryPoint(inverse(spindleFrame(m, s, places)), tool);
        expect(seen[0]).toBeCloseTo(below ? -x : x, 7);
        expect(seen[1]).toBeCloseTo(0, 7);
        expect(seen[2]).toBeCloseTo(z, 7);
      }),
      { numRuns: 300 },
    );
  });
});

describe('changing tools and power', () => {
  it('turns a turret the short way, changes from a magazine, and slides a gang along', () => {
    const { 'fellgate-tt': tt, 'fellgate-b6': b6, 'fellgate-slide': slide } = machines;
    expect(indexTime(tt, tt.carriers[0], 1, 12)).toBeCloseTo(0.3 + 0.1, 12);
    expect(indexTime(tt, tt.carriers[0], 2, 8)).toBeCloseTo(0.3 + 0.6, 12);
    expect([indexTime(tt, tt.carriers[0], null, 3), indexTime(tt, tt.carriers[0], 3, 3)]).toEqual([0, 0]);
    expect(indexTime(b6, b6.carriers[0], 1, 30)).toBe(6);
    // 22 mm at 8 m/s² never get to 32 m/min: 2·√(s/a); 66 mm do: s/v + v/a
    expect(indexTime(slide, slide.carriers[0], 1, 2)).toBeCloseTo(2 * Math.sqrt(22 / 8000), 9);
    const v = 32_000 / 60;
    expect(indexTime(slide, slide.carriers[0], 1, 4)).toBeCloseTo(66 / v + v / 8000, 9);
  });
  it('has power by the motor’s torque below the base speed', () => {
    const [spindle] = machines['fellgate-long'].spindles;
    expect(powerAt(spindle, 3000)).toBe(15);
    expect(powerAt(spindle, 375)).toBeCloseTo((191 * 2 * Math.PI * 375) / 60_000, 9);
    expect(powerAt(spindle, 750)).toBeCloseTo(15, 2);
    expect(powerAt({ power: 11, torque: null }, 10)).toBe(11);
  });
  it('takes the time of a trapezoid', () => {
    expect(trapezoidTime(200, 400, 0, 0, 5000)).toBeCloseTo(0.58, 9);
    expect(trapezoidTime(0, 400, 0, 0, 5000)).toBe(0);
  });
});

describe('machine files', () => {
  it('of the demo shop are sound, and each carrier has its channel', () => {
    for (const m of Object.values(machines))
      for (const c of m.carriers) expect(channelOfCarrier(m, c.id)?.carrier).toBe(c.id);
  });
  it.each(['fellgate-t2', 'fellgate-long', 'fellgate-tt'])('%s without links, as it was, is read the same', (id) => {
    const read = readMachine(flatMachineFile(id));
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const [old, now] = [read.machine, demoMachine(id)];
    for (const s of now.spindles) {
      expect(spindleStand(old, s.id)).toEqual(spindleStand(now, s.id));
      for (const c of now.carriers) {
        const [a, b] = [reachBetween(old, c.id, s.id), reachBetween(now, c.id, s.id)];
        expect([a.below, a.axes.X, a.axes.Z]).toEqual([b.below, b.axes.X, b.axes.Z]);
        expect(indexTime(old, c, 2, 7)).toBe(indexTime(now, c, 2, 7));
      }
    }
  });
  type Change = (m: Machine) => unknown;
  const link = (m: Machine, id: string) => m.links.find((l) => l.id === id) ?? {};
  const joint = (m: Machine, id: string) => jointOf(m, id);
  it.each<[string, Change, string, RegExp]>([
    [
      'a parent that is not there',
      (m) => Object.assign(link(m, 'upper-x'), { parent: 'uper' }),
      'links.2.parent',
      /“upper-x” stands on “uper”/,
    ],
    [
      'a joint that stands on nothing',
      (m) => Object.assign(link(m, 'upper-z'), { parent: null }),
      'links.1',
      /has a joint and stands on nothing/,
    ],
    [
      'links that stand on each other',
      (m) => Object.assign(link(m, 'upper-z'), { parent: 'upper-x' }),
      'links.1.parent',
      /stands on itself/,
    ],
    [
      'least above greatest',
      (m) => Object.assign(joint(m, 'upper-z'), { min: 700 }),
      'links.1.joint.min',
      /Axis Z of Upper turret cannot travel: its least place, 700/,
    ],
    [
      'a home outside its travel',
      (m) => Object.assign(joint(m, 'sub-head'), { home: 900 }),
      'links.8.joint.home',
      /home at 900, outside its travel of 40 to 640/,
    ],
    [
      'a slide without end',
      (m) => Object.assign(joint(m, 'upper-x'), { max: null }),
      'links.2.joint',
      /Axis X of link “upper-x” has no end/,
    ],
    [
      'a direction that is no unit vector',
      (m) => Object.assign(joint(m, 'upper-x'), { direction: [2, 0, 0] }),
      'links.2.joint.direction',
      /length 2; it must be 1/,
    ],
    [
      'two links of one name',
      (m) => Object.assign(link(m, 'lower-x'), { id: 'upper-x' }),
      'links.5.id',
      /Two of the machine’s links are called “upper-x”/,
    ],
    [
      'a spindle on a link that is not there',
      (m) => Object.assign(m.spindles[0], { link: 'ghost' }),
      'spindles.0.link',
      /no link “ghost”.*Name one of: bed, upper-z/,
    ],
    [
      'a carrier that reaches for a spindle that is not there',
      (m) => Object.assign(m.carriers[1], { reaches: ['third'] }),
      'carriers.1.reaches.0',
      /no spindle “third”/,
    ],
    [
      'a channel with a carrier that is not there',
      (m) => Object.assign(m.channels[1], { carrier: 'gang' }),
      'channels.1.carrier',
      /no carrier “gang”/,
    ],
    [
      'a carrier that no channel commands',
      (m) => Object.assign(m.channels[1], { carrier: null }),
      'carriers.1',
      /Lower turret is commanded by no channel/,
    ],
    [
      'a carrier that two channels command',
      (m) => Object.assign(m.channels[1], { carrier: 'upper' }),
      'carriers.0',
      /commanded by Channel 1 and Channel 2/,
    ],
    [
      'one word for two joints',
      (m) => Object.assign(m.channels[0].words, { 'main-c': 'X' }),
      'channels.0.words.main-c',
      /The word X of Channel 1 moves two joints/,
    ],
    [
      'no word for the way along Z',
      (m) => void delete m.channels[0].words['upper-z'],
      'carriers.0',
      /Upper turret cannot move along Z against the work of Main spindle/,
    ],
    [
      'a device that is not there',
      (m) => Object.assign(m.channels[0], { devices: ['robot'] }),
      'channels.0.devices.0',
      /no device “robot”/,
    ],
  ])('with %s are refused at their place', (_name, change, place, message) => {
    const machine = structuredClone(demoMachine('fellgate-tt'));
    change(machine);
    const read = readMachine(machine);
    if (read.ok) throw new Error('read as sound');
    expect(read.problems[0].place).toBe(place);
    expect(read.problems[0].message).toMatch(message);
  });
  it('that are none, newer, or lack a value are refused', () => {
    const said = (value: unknown): string => {
      const read = readMachine(value);
      return read.ok ? '' : read.problems[0].message;
    };
    expect(said(null)).toContain('holds no object');
    expect(said({ format: 'other' })).toContain('should be “lively-spindle-machine”');
    expect(said({ ...(machineFile('fellgate-t2') as object), version: 9 })).toContain('newer program (version 9');
    expect(said({ ...(machineFile('fellgate-t2') as object), links: [] })).toContain('links');
    expect(said({ id: 'x' })).not.toBe('');
  });
});
