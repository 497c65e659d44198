import { describe, expect, it } from 'vitest';
import { barOf, holdingOf } from '../../../tests/fixtures/holding';
import { DEMO_JOBS, demoJob } from '../../../tests/fixtures/jobs';
import { jointOf } from '../../../tests/fixtures/machines';
import { randomOutside } from '../../../tests/fixtures/randomJobs';
import { setTool } from '../../../tests/fixtures/turned';
import { twoChannelJob } from '../../../tests/fixtures/twoChannel';
import { type FindingCode, wordFinding } from '../findings';
import { buildPart, FeatureNoteSchema, listFeatures } from '../part';
import { inStations } from '../tooling';
import { DeriveCache } from './cache';
import { derive } from './derive';
import { withValues } from './diff';
import type { Job } from './document';

/** Faults that a programmer makes, planted one at a time into jobs that are sound, and what has to be said about each. */

type Change = (j: Job) => void;
type Fault = readonly [what: string, code: FindingCode, change: Change];

const params =
  (id: string, p: Record<string, unknown>): Change =>
  (j) =>
    void Object.assign((j.operations[id] as unknown as { params: object }).params, p);
const cutting =
  (id: string, c: Record<string, unknown>): Change =>
  (j) =>
    void Object.assign((j.operations[id] as unknown as { cutting: object }).cutting, c);
const surface = (id: string, value: number): Change => cutting(id, { speed: { mode: 'surface', value, clamp: null } });
const fixed = (id: string, value: number): Change => cutting(id, { speed: { mode: 'fixed', value } });
const hold =
  (h: Record<string, unknown>): Change =>
  (j) =>
    void Object.assign('stickOut' in h ? barOf(j) : holdingOf(j), h);
const stock =
  (s: Record<string, unknown>): Change =>
  (j) =>
    void Object.assign(barOf(j), s);
const tool =
  (id: string, t: Parameters<typeof setTool>[2]): Change =>
  (j) =>
    setTool(j, id, t);
const use =
  (id: string, t: string | null): Change =>
  (j) =>
    void (j.operations[id].tool = t);
const off =
  (...ids: string[]): Change =>
  (j) => {
    for (const id of ids) j.operations[id].on = false;
  };
const span =
  (id: string, from: string, to = from): Change =>
  (j) =>
    void Object.assign(j.operations[id], { span: { from, to } });
const row =
  (id: string, r: Record<string, unknown>): Change =>
  (j) =>
    void Object.assign([...j.part.outer.rows, ...(j.part.inner?.rows ?? [])].find((k) => k.id === id) ?? {}, r);
const axis =
  (name: 'X' | 'Z', a: Record<string, number>): Change =>
  (j) =>
    void Object.assign(jointOf(j.machine, `upper-${name.toLowerCase()}`), a);
const formula =
  (id: string, path: string, text: string): Change =>
  (j) =>
    void Object.assign(j.operations[id], { formulas: { [path]: text } });
const order =
  (...ids: string[]): Change =>
  (j) =>
    void (j.order['1'] = ids);

/** Moves an operation before another of the same channel. */
const before =
  (id: string, other: string): Change =>
  (j) => {
    for (const ids of Object.values(j.order)) {
      if (!ids.includes(id)) continue;
      ids.splice(ids.indexOf(id), 1);
      ids.splice(ids.indexOf(other), 0, id);
    }
  };
const own = (feed: number) => ({ feed, speed: null });
/** Three times what threads in this material begin with, in a part where no clamp is in the way. */
const thirdSpeed =
  (id: string): Change =>
  (j) => {
    j.machine.spindles[0].maxSpeed = 12_000;
    holdingOf(j).maxSpeed = 12_000;
    fixed(id, 8000)(j);
  };

/** Asks for a roughness on every feature of a job, Ra in µm. */
const roughnessOn = (j: Job, roughness: number): void => {
  const ids = listFeatures(j.part, buildPart(j.part)).map((f) => f.id);
  j.part.notes = Object.fromEntries(ids.map((id) => [id, FeatureNoteSchema.parse({ roughness })]));
};

const FAULTS: Readonly<Record<string, readonly Fault[]>> = {
  'LM-101': [
    // stock and holding
    ['stock smaller than the part', 'stock-too-small', stock({ diameter: 55 })],
    ['stock smaller than the part leaves metal missing', 'metal-missing', stock({ diameter: 59 })],
    ['a tube whose bore is wider than the part’s', 'metal-missing', stock({ bore: 20 })],
    ['nothing in front of the part for the facing', 'nothing-to-cut', stock({ frontAllowance: 0 })],
    ['less stick-out than the part is long', 'stick-out-short', hold({ stickOut: 18 })],
    ['no room behind the part for the blade', 'cutoff-meets-jaws', hold({ stickOut: 25 })],
    ['a back limit within the jaws', 'behind-jaws', params('op3', { output: 'moves', backLimit: -46 })],
    ['a grip of a few millimetres', 'grip-short', hold({ grip: 6 })],
    ['heavy jaws that open with speed', 'grip-lost', (j) => void Object.assign(holdingOf(j).jaws, { mass: 3 })],
    ['a weak clamping force', 'grip-lost', hold({ gripForce: 4000 })],
    ['a safe distance of a tenth', 'safe-distance-small', hold({ safeDistance: 0.1 })],
    ['a tool change among the metal', 'tool-change-close', hold({ toolChange: { diameter: 70, z: 8 } })],
    ['a tool change beyond the X travel', 'travel-x', hold({ toolChange: { diameter: 700, z: 100 } })],
    ['a tool change beyond the Z travel', 'travel-z', hold({ toolChange: { diameter: 160, z: 600 } })],
    ['a machine whose X ends before the axis', 'travel-x', axis('X', { min: 60 })],
    ['a machine whose Z ends before the chuck', 'travel-z', axis('Z', { min: 150 })],
    ['a spindle that the machine does not have', 'spindle-unknown', hold({ spindle: 'third' })],
    ['a dialect that nobody knows', 'dialect-unknown', (j) => void (j.machine.dialect = 'other')],
    // tools and stations
    ['no tool', 'no-tool', use('op3', null)],
    ['a tool that is gone', 'tool-unknown', use('op3', 'ghost')],
    ['a tool that stands in no station', 'tool-not-in-station', (j) => void delete j.mounts.upper['1']],
    [
      'a station beyond the turret’s last',
      'station-missing',
      (j) => void Object.assign(j.mounts.upper, inStations({ '15': 'rough-trigon' })),
    ],
    ['a ninth place in a block', 'station-missing', (j) => void (j.mounts.upper['1']['9'] = j.mounts.upper['2']['1'])],
    [
      'a station that is no number',
      'station-missing',
      (j) => void (j.mounts.upper = inStations({ 'x/y': 'face-rough-80' })),
    ],
    [
      'a carrier that the machine does not have',
      'tool-on-other-carrier',
      (j) => void (j.mounts = { lower: j.mounts.upper }),
    ],
    [
      'one tool in two stations',
      'tool-twice',
      (j) => void Object.assign(j.mounts.upper, inStations({ '9': 'face-rough-80' })),
    ],
    [
      'a station with a tool that is gone',
      'tool-unknown',
      (j) => void Object.assign(j.mounts.upper, inStations({ '9': 'ghost' })),
    ],
    ['one offset for two tools', 'duplicate-station', (j) => void (j.mounts.upper['3']['1'].offset = 1)],
    ['a boring bar turned over', 'way-up-not-possible', (j) => void (j.mounts.upper['7']['1'].wayUp = 'turned')],
    ['a designation that is none', 'tool-unreadable', tool('face-rough-80', { cutter: { designation: 'QQQQ' } })],
    ['a nose of no size', 'tool-unreadable', tool('finish-55', { cutter: { designation: 'DCMT11T300' } })],
    ['a drill for roughing', 'wrong-tool', use('op3', 'drill-11')],
    ['a drill for cutting off', 'wrong-tool', use('op7', 'drill-11')],
    ['a blade for facing', 'wrong-tool', use('op1', 'cutoff-3')],
    ['a turning tool in the bore', 'wrong-tool', use('op6', 'finish-55')],
    ['a bar on the outside', 'wrong-tool', use('op4', 'bore-8')],
    ['a turning tool for drilling', 'wrong-tool', use('op2', 'finish-55')],
    ['a nose larger than the fillet', 'leftover', tool('finish-55', { cutter: { designation: 'DCMT11T312' } })],
    ['a left hand for facing', 'wrong-hand', tool('face-rough-80', { holder: { hand: 'left' } })],
    ['a bar thicker than the hole', 'bar-too-thick', tool('bore-8', { holder: { diameter: 12, noseToAxis: 8 } })],
    ['a steel bar six diameters long', 'bar-overhang', tool('bore-8', { holder: { material: 'steel' }, stickOut: 44 })],
    ['a bar so short that the turret meets the part', 'turret-meets-stock', tool('bore-8', { stickOut: 12 })],
    ['a blade shorter than the radius', 'blade-too-short', tool('cutoff-3', { cutter: { reach: 15 } })],
    [
      'a blade that leaves a web',
      'not-severed',
      (j) => {
        setTool(j, 'cutoff-3', { cutter: { leadAngle: 15 } });
        j.part.inner = null;
        j.part.outer.start.diameter = 0;
        Object.assign(j.part.outer.rows[j.part.outer.rows.length - 1], { diameter: 0 });
        off('op2', 'op5', 'op6')(j);
        params('op7', { pastCentre: 0 })(j);
      },
    ],
    ['a drill with flutes too short', 'drill-too-short', tool('drill-11', { cutter: { fluteLength: 15 } })],
    [
      'a drill whose sleeve comes to the face',
      'drill-holder-meets-stock',
      tool('drill-11', { cutter: { fluteLength: 60 }, stickOut: 20 }),
    ],
    ['a drill wider than the bore', 'gouge', tool('drill-11', { cutter: { diameter: 13 } })],
    // speeds, feeds, depths
    ['a feed of nothing', 'bad-number', cutting('op3', { feed: 0 })],
    ['a feed with the wrong sign', 'bad-number', cutting('op4', { feed: -0.1 })],
    ['a feed of metres', 'bad-number', cutting('op3', { feed: 300 })],
    ['a surface speed of nothing', 'bad-number', surface('op3', 0)],
    ['a surface speed with the wrong sign', 'bad-number', surface('op3', -200)],
    ['a spindle speed of nothing', 'bad-number', fixed('op2', 0)],
    ['a depth of nothing', 'bad-number', params('op3', { depth: 0 })],
    ['a depth with the wrong sign', 'bad-number', params('op3', { depth: -2 })],
    ['an allowance that is no allowance', 'bad-number', params('op3', { allowanceX: -0.2 })],
    ['an allowance of half the bar', 'bad-number', params('op3', { allowanceX: 40 })],
    ['pecks of a hundredth', 'bad-number', params('op2', { peck: 0.01 })],
    ['a dwell of minutes', 'bad-number', params('op2', { dwell: 300 })],
    ['a hole of negative depth', 'bad-number', params('op2', { depth: -5 })],
    ['a break-through back into the part', 'bad-number', params('op2', { breakThrough: -4 })],
    ['a cutoff that slows by more than all', 'bad-number', params('op7', { slowBy: 120 })],
    ['more power than the spindle has', 'power-over', (j) => void Object.assign(j.machine.spindles[0], { power: 0.5 })],
    ['layers thicker than the edge bears', 'depth-over-edge', params('op3', { depth: 11, output: 'moves' })],
    [
      'drilling deep in one go',
      'drill-needs-pecks',
      (j) => {
        params('op2', { peck: 0 })(j);
        setTool(j, 'drill-11', { cutter: { diameter: 7 } });
      },
    ],
    // places and limits
    ['limits the wrong way round', 'limits-empty', params('op3', { output: 'moves', frontLimit: -20, backLimit: -10 })],
    ['a span that is gone', 'span-lost', span('op3', 'nope')],
    ['a facing behind the front', 'face-below-part', params('op1', { targetZ: -2 })],
    ['a facing behind the front gouges', 'gouge', params('op1', { targetZ: -2 })],
    ['a facing in front of the front', 'leftover', params('op1', { targetZ: 0.3 })],
    [
      'a facing that ends before the bore',
      'leftover',
      (j) => {
        params('op1', { toDiameter: 40 })(j);
        off('op3', 'op4')(j);
      },
    ],
    ['a blind hole where the part has a through one', 'bore-shallow', params('op2', { depth: 8 })],
    ['a rough cut that runs on into the jaws', 'behind-jaws', params('op3', { output: 'moves', extendBehind: 30 })],
    // order and completeness
    ['boring what was not drilled', 'bore-undrilled', off('op2')],
    ['boring before drilling', 'bore-undrilled', order('op1', 'op3', 'op4', 'op5', 'op6', 'op2', 'op7')],
    ['cutting off first', 'cutoff-not-last', (j) => void j.order['1'].reverse()],
    ['no finishing of the rim', 'leftover', off('op4')],
    ['no finishing of the bore', 'leftover', off('op6')],
    ['finishing what was not roughed', 'finish-too-deep', off('op3')],
    ['everything switched off', 'nothing-made', (j) => off(...Object.keys(j.operations))(j)],
    ['finishing only a piece', 'leftover', span('op4', 'o3')],
    // the part
    ['a part without a contour', 'part-missing', (j) => void (j.part.outer.rows = [])],
    [
      'a part longer than the stick-out',
      'stick-out-short',
      (j) => {
        row('o6', { z: -60 })(j);
        row('o7', { z: -60 })(j);
        row('i1', { z: -60 })(j);
      },
    ],
    // formulas
    ['a formula over a name that is not there', 'formula', formula('op3', 'params.depth', 'lenght / 2')],
    ['a formula that is none', 'formula', formula('op3', 'params.depth', '2 +')],
    ['a formula that gives nothing', 'bad-number', formula('op3', 'params.depth', '1 - 1')],
    ['a formula that divides by nothing', 'formula', formula('op4', 'cutting.feed', '1 / 0')],
  ],
  'LM-118': [
    ['metal that is left without a cutoff', 'leftover', off('op5', 'op7')],
    ['a cutoff that stops before the axis', 'bad-number', params('op7', { pastCentre: -1 })],
    ['full feed to the centre', 'full-feed-to-centre', params('op7', { slowBy: 0 })],
    ['slowing only at the very centre', 'full-feed-to-centre', params('op7', { slowFrom: 1 })],
    ['drilling steel without coolant', 'coolant-wanted', cutting('op2', { coolant: false })],
    ['cutting steel off without coolant', 'coolant-wanted', cutting('op7', { coolant: false })],
    ['a tool change close to the bar', 'tool-change-close', hold({ toolChange: { diameter: 60, z: 8 } })],
    ['a drill that breaks out where the part is blind', 'gouge', params('op2', { depth: null })],
    ['a drill deeper than the blind bore', 'gouge', params('op2', { depth: 24 })],
    [
      'an edge angle that does not reach the shoulder',
      'leftover',
      tool('finish-55', { holder: { approachAngle: 60 } }),
    ],
    ['a roughing tool that finishes nothing', 'leftover', off('op5', 'op6')],
    ['a bore finished with an allowance before it', 'finish-too-deep', off('op4')],
    ['a bar so long that it sags', 'bar-overhang', tool('bore-12', { stickOut: 80 })],
    ['a channel that the operation does not stand in', 'channel-differs', (j) => void (j.operations.op3.channel = '9')],
    ['a roughness that the feed cannot give', 'too-rough', (j) => roughnessOn(j, 0.2)],
  ],
  'LM-155': [
    ['a slender bar without support', 'unsupported', hold({ stickOut: 60 })],
    ['no pecks in a hole of more than three diameters', 'drill-needs-pecks', params('op2', { depth: 22 })],
    ['a drill that opens the bore too wide', 'gouge', tool('drill-7', { cutter: { diameter: 9 } })],
  ],
  'LM-104': [
    ['a thread in one pass', 'thread-first-deep', params('op12', { passes: 1 })],
    ['a first infeed of most of the form', 'thread-first-deep', params('op12', { first: 0.7 })],
    ['a thread before its diameter is roughed', 'thread-on-stock', before('op12', 'op3')],
    ['a thread before its diameter is finished', 'thread-on-stock', before('op12', 'op5')],
    ['an inside thread before its bore is finished', 'thread-on-stock', before('op13', 'op6')],
    ['a thread before its relief', 'thread-relief-uncut', before('op12', 'op7')],
    ['a thread longer than its surface', 'thread-too-long', params('op12', { length: 40 })],
    ['a feed wider than the nose', 'feed-over-nose', cutting('op5', { feed: 0.9 })],
    ['a feed of one element wider than the nose', 'feed-over-nose', params('op5', { own: { o1: own(0.7) } })],
    ['a feed that breaks the grooving blade', 'feed-over-blade', cutting('op7', { feed: 0.6 })],
    ['a feed that breaks the face blade', 'feed-over-blade', cutting('op10', { feed: 0.5 })],
    ['a feed that breaks the drill', 'feed-over-drill', cutting('op2', { feed: 1.5 })],
    ['a step wider than the blade', 'bad-number', params('op7', { step: 4 })],
    ['a cutoff at four times the speed', 'speed-over-material', fixed('op14', 4400)],
    [
      'a nose rounder than the root of the thread',
      'thread-nose',
      tool('thread-60-fine', { cutter: { noseRadius: 0.5 } }),
    ],
    ['pecks longer than the hole is deep', 'drill-needs-pecks', params('op2', { peck: 60 })],
    ['walls of a groove left to the finishing', 'bad-number', params('op7', { allowance: 3 })],
    ['a blade that goes on past the centre', 'bad-number', params('op14', { pastCentre: 4 })],
    ['a blade longer than its tool stands out', 'stick-out-of-tool', tool('cutoff-3', { stickOut: 5 })],
    ['a thread at three times the speed', 'speed-over-material', thirdSpeed('op12')],
  ],
  'LM-212B': [
    ['jaws that come to the part in a rapid', 'handover-number', params('op7', { clearance: 0 })],
    ['a handover faster than the spindles turn', 'handover-number', params('op7', { speed: 6000 })],
    ['a grip at the speed of a rapid', 'handover-number', params('op7', { feed: 20_000 })],
    ['a withdrawal while the part hangs on the bar', 'out-of-turn', before('op9', 'op8')],
    ['a bar fed while the part hangs on it', 'out-of-turn', before('op10', 'op8')],
    ['a bar fed into the other spindle’s jaws', 'out-of-turn', before('op10', 'op9')],
    ['a cutoff of the next bar', 'after-bar-feed', before('op10', 'op8')],
    [
      'a handover that the other channel does while the blade cuts',
      'out-of-turn',
      (j) => {
        j.order['1'] = j.order['1'].filter((id) => id !== 'op7');
        j.order['2'].push('op7');
        j.operations.op7.channel = '2';
      },
    ],
    ['a bar feeder that is waited for until yesterday', 'bad-number', params('op10', { time: -2 })],
    ['a part that takes a quarter of an hour to fall', 'bad-number', params('b3', { time: 900 })],
    ['a spindle that never goes back with the part', 'no-withdraw', off('op9')],
    ['a part that stays where the next one comes', 'part-stays', off('b3')],
    ['a part thrown out before it is done', 'out-of-turn', before('b3', 'b1')],
  ],
};

const TWO: readonly Fault[] = [
  [
    'marks taken out of one channel',
    'mark-partner',
    (j) => {
      j.order['2'] = j.order['2'].filter((id) => id !== 'w2b');
      delete j.operations.w2b;
    },
  ],
  [
    'marks in another order in the other channel',
    'deadlock',
    (j) => {
      const o = j.order['2'];
      const [a, b] = [o.indexOf('w1b'), o.indexOf('w3b')];
      [o[a], o[b]] = [o[b], o[a]];
    },
  ],
  [
    'no marks at all',
    'unsynchronised',
    (j) => {
      for (const c of ['1', '2']) j.order[c] = j.order[c].filter((id) => j.operations[id].kind !== 'wait');
      for (const [id, op] of Object.entries(j.operations)) if (op.kind === 'wait') delete j.operations[id];
    },
  ],
  [
    'a drill of the lower turret put into the upper one',
    'tool-on-other-carrier',
    (j) => {
      j.mounts.upper['9'] = j.mounts.lower['1'];
      delete j.mounts.lower['1'];
    },
  ],
  ['an operation listed in the other channel', 'channel-differs', (j) => void (j.operations.op2.channel = '1')],
];

const codes = (j: Job, cache?: DeriveCache): string[] => {
  const d = derive(j, cache);
  for (const f of d.findings) {
    const w = wordFinding(f);
    expect(w.message).not.toMatch(/undefined|NaN|\?/);
    expect(w.remedy.length).toBeGreaterThan(10);
  }
  return d.findings.filter((f) => f.severity !== 'info').map((f) => f.code);
};

describe('planted faults', () => {
  for (const [name, faults] of Object.entries(FAULTS)) {
    const cache = new DeriveCache();
    it.each(faults)(`${name}: %s → %s`, (_what, code, change) => {
      const job = demoJob(name);
      change(job);
      expect(codes(job, cache)).toContain(code);
    });
  }
  it.each(TWO)('two channels: %s → %s', (_what, code, change) => {
    expect(codes(twoChannelJob(change))).toContain(code);
  });
  it('are at least ninety', () => {
    expect(Object.values(FAULTS).reduce((s, f) => s + f.length, TWO.length)).toBeGreaterThanOrEqual(90);
  });
});

describe('remedies', () => {
  const all = Object.entries(FAULTS).flatMap(([name, faults]) =>
    faults.map(([what, , change]) => [name, what, change] as const),
  );
  it('that are offered as a button cure what they are offered for', () => {
    const offered = new Set<string>();
    const caches = new Map(Object.keys(FAULTS).map((name) => [name, new DeriveCache()]));
    for (const [name, what, change] of all) {
      const job = demoJob(name);
      const cache = caches.get(name);
      change(job);
      for (const f of derive(job, cache).findings) {
        if (!f.remedy) continue;
        offered.add(f.code);
        const mended = withValues(structuredClone(job), f.remedy.set);
        expect(mended, what).not.toEqual(job);
        const still = derive(mended, cache).findings.some((k) => k.code === f.code && k.operation === f.operation);
        expect(still, `${name}, ${what}: “${f.remedy.label}” for ${f.code}`).toBe(false);
      }
    }
    expect(offered.size).toBeGreaterThan(12);
  });
});

describe('false alarms', () => {
  it('are none on the demo jobs', () => {
    for (const name of DEMO_JOBS) expect(codes(demoJob(name))).toEqual([]);
    expect(codes(twoChannelJob())).toEqual([]);
  });
  it('are none where the tool that finishes from behind has to pass over the bar beside its span with its flank', () => {
    const d = derive(randomOutside(548711, 'left', ['moves', 'computed']));
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    const finish = d.operations.find((o) => o.id === 'finish');
    expect(finish?.removed).toBeGreaterThan(300);
    expect(finish?.findings.filter((f) => f.severity !== 'info')).toEqual([]);
  });
  // 200 random sound jobs and more are looked at in nc/turned.property.test.ts and by the properties of each kind
});
