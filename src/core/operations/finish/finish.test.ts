import { describe, expect, it } from 'vitest';
import { demoJob } from '../../../../tests/fixtures/jobs';
import { steppedPin } from '../../../../tests/fixtures/turned';
import { feedForRoughness, roughness } from '../../cutting';
import { add, arcRadius, containsPoint, distance, point, scale } from '../../geometry';
import { movesOf } from '../../motion';
import { postJob, programText, proveJob } from '../../nc';
import { buildPart, listFeatures } from '../../part';
import { derive, type Job } from '../../plan';

/** A stepped shaft ⌀20/⌀30, roughed and finished. */
const shaft = (params: Record<string, unknown>, change: (job: Job) => void = () => undefined): Job => {
  const job = steppedPin({ tools: [], by: 'fine', rough: { allowanceX: 1.2, allowanceZ: 0.3 }, finish: params });
  change(job);
  return job;
};
const finishOf = (job: Job) => {
  const d = derive(job);
  const op = d.operations.find((o) => o.id === 'finish');
  if (!op) throw new Error('no finish');
  const proof = proveJob(job, d, postJob(job, d, '').map(programText));
  return { d, op, proof, text: programText(postJob(job, d, '')[0]) };
};
const sound = (job: Job) => {
  const made = finishOf(job);
  expect(made.d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
  expect(made.proof.channels.flatMap((c) => [...c.problems, ...c.differences])).toEqual([]);
  expect(made.proof.agrees).toBe(true);
  return made;
};
/** Diameters of level cuts over a stretch. */
const levels = (job: Job): number[] => {
  const cuts = movesOf(finishOf(job).op.events).filter((m) => m.event.purpose === 'cut' && m.event.kind === 'feed');
  const along = cuts.filter((m) => Math.abs(m.to.X - m.from.X) < 1e-9 && m.from.Z - m.to.Z > 8 && m.to.X < 12);
  return along.map((m) => 2 * m.to.X);
};

describe('several finishing passes', () => {
  it('come nearer by the same each, the last one to the contour', () => {
    const made = levels(shaft({ passes: 3, passDepth: 0.15 }));
    const expected = [20.6, 20.3, 20];
    expect(made.length).toBe(3);
    for (const [i, v] of made.entries()) expect(v).toBeCloseTo(expected[i], 6);
  });
  it('cut nothing where nothing is left', () => {
    // the allowance of 0.6 per side is less than the first pass lies off
    expect(levels(shaft({ passes: 3, passDepth: 0.4 })).length).toBe(2);
  });
  it.each(['computed', 'control'])('are proved, nose %s', (compensation) => {
    sound(shaft({ passes: 2, passDepth: 0.2, compensation }));
  });
  it.each([0, 1.5, 11])('cannot be %d', (passes) => {
    expect(derive(shaft({ passes })).findings.map((f) => f.code)).toContain('bad-number');
  });
});

describe('feed by roughness', () => {
  const asked = (ra: number) => (job: Job) => {
    const part = buildPart(job.part);
    const id = listFeatures(job.part, part).find((f) => f.elements.includes('b'))?.id ?? '';
    job.part.notes = { [id]: { name: '', ignored: false, tolerance: '', roughness: ra } };
  };
  it('is the feed at which the nose leaves it', () => {
    expect(feedForRoughness(1.6037, 0.8)).toBeCloseTo(0.2, 4);
    for (const ra of [0.4, 0.8, 3.2]) expect(roughness(feedForRoughness(ra, 0.4), 0.4).ra).toBeCloseTo(ra, 9);
  });
  it.each(['computed', 'control'])(
    'changes on the element that asks for it and nowhere else, nose %s',
    (compensation) => {
      const { op } = sound(shaft({ feeds: 'roughness', compensation }, asked(0.8)));
      const wanted = Math.floor(feedForRoughness(0.8, 0.4) * 1000) / 1000;
      const feeds = movesOf(op.events).flatMap((m) =>
        m.event.kind === 'feed' && m.event.purpose === 'cut' && m.from.Z - m.to.Z > 8
          ? [[Math.round(2 * m.to.X), m.event.feed.value] as const]
          : [],
      );
      expect(feeds).toEqual([
        [20, wanted],
        [30, 0.15],
      ]);
    },
  );
  it('is never more than the feed of the operation, and no longer tells of a coarse one', () => {
    const plain = finishOf(shaft({}, asked(0.4))).op.findings.map((f) => f.code);
    expect(plain).toContain('too-rough');
    const by = finishOf(shaft({ feeds: 'roughness' }, asked(0.4))).op.findings.map((f) => f.code);
    expect(by).not.toContain('too-rough');
    const coarse = finishOf(shaft({ feeds: 'roughness' }, asked(50)));
    for (const m of movesOf(coarse.op.events)) if (m.event.kind === 'feed') expect(m.event.feed.value).toBe(0.15);
  });
});

describe('single elements', () => {
  /** Feed and wanted surface speed of each long level cut. */
  const cuts = (job: Job) => {
    const { op } = sound(job);
    const found = movesOf(op.events).flatMap((m) => {
      if (m.event.kind !== 'feed' || m.event.purpose !== 'cut' || m.from.Z - m.to.Z < 8) return [];
      const spindle = op.events.slice(0, m.index).findLast((e) => e.kind === 'spindle');
      return [[Math.round(2 * m.to.X), m.event.feed.value, spindle?.kind === 'spindle' ? spindle.speed.value : 0]];
    });
    return found;
  };
  it('have their own feed and speed, and the rest the operation’s', () => {
    expect(cuts(shaft({}))).toEqual([
      [20, 0.15, 180],
      [30, 0.15, 180],
    ]);
    expect(cuts(shaft({ own: { b: { feed: 0.06, speed: 120 } } }))).toEqual([
      [20, 0.06, 120],
      [30, 0.15, 180],
    ]);
    expect(cuts(shaft({ own: { d: { feed: null, speed: 250 } } }))).toEqual([
      [20, 0.15, 180],
      [30, 0.15, 250],
    ]);
  });
  it('win over the feed by roughness', () => {
    const rough = (job: Job): void => {
      const id = listFeatures(job.part, buildPart(job.part)).find((f) => f.elements.includes('b'))?.id ?? '';
      job.part.notes = { [id]: { name: '', ignored: false, tolerance: '', roughness: 0.4 } };
    };
    expect(cuts(shaft({ feeds: 'roughness', own: { b: { feed: 0.11 } } }, rough))[0]).toEqual([20, 0.11, 180]);
  });
  it('with a speed of their own are computed where the control was asked to compensate, with the reason', () => {
    const { op, text } = sound(shaft({ compensation: 'control', own: { b: { speed: 120 } } }));
    expect(op.findings.map((f) => f.code)).toContain('compensation-not-possible');
    expect(text).toMatch(/G96 S120 M[34]/);
    // with a feed alone the control can do it
    expect(sound(shaft({ compensation: 'control', own: { b: { feed: 0.07 } } })).text).toMatch(/G42[\s\S]*F0\.07/);
  });
  it('cannot have an impossible feed', () => {
    expect(derive(shaft({ own: { b: { feed: -1 } } })).findings.map((f) => f.code)).toContain('bad-number');
  });
});

describe('several spans', () => {
  const two = (params: Record<string, unknown>): Job =>
    shaft(params, (job) => Object.assign(job.operations.finish, { span: { from: 'b', to: 'b' } }));
  const left = (job: Job): string[] =>
    finishOf(job)
      .d.coverage.filter((c) => c.state === 'finished')
      .map((c) => c.element);
  it('are finished in one operation, from the front, and the rest is left', () => {
    expect(left(two({}))).not.toContain('d');
    const both = two({ more: [{ from: 'd', to: 'd' }] });
    expect(left(both)).toEqual(expect.arrayContaining(['b', 'd']));
    const { op } = sound(both);
    const front = movesOf(op.events).findIndex((m) => m.event.purpose === 'cut' && m.to.X < 11);
    const behind = movesOf(op.events).findIndex((m) => m.event.purpose === 'cut' && m.to.X > 14);
    expect(front).toBeLessThan(behind);
  });
  it('are told when the part no longer has one of them', () => {
    const found = derive(
      two({
        more: [
          { from: 'd', to: 'd' },
          { from: 'ghost', to: 'ghost' },
        ],
      }),
    ).findings;
    expect(found.map((f) => f.code)).toContain('span-lost');
  });
});

describe('a round that is picked alone', () => {
  const R = 2;
  const rounded = (change: (rows: Record<string, { corner: unknown }>) => void, id: string): Job =>
    shaft({ extendBehind: 0 }, (job) => {
      const rows = Object.fromEntries(job.part.outer.rows.map((r) => [r.id, r]));
      change(rows as never);
      Object.assign(job.operations.finish, { span: { from: id, to: id } });
    });
  const fillet = { kind: 'fillet', size: R };
  it.each([
    ['at the front', 'a', point(-R, 10 - R)],
    ['at a shoulder', 'c', point(-12 - R, 15 - R)],
  ] as const)('%s is finished to where it stands upright', (_, row, centre) => {
    const { d, op } = sound(
      rounded((rows) => {
        rows[row].corner = fillet;
      }, `${row}/corner`),
    );
    expect(d.coverage.filter((c) => c.state === 'finished').map((c) => c.element)).toContain(`${row}/corner`);
    const after = op.after.turnedOutline;
    // from the axis outward through every degree of it the metal ends at R
    for (let degree = 1; degree <= 89; degree++) {
      const along = point(Math.cos((degree * Math.PI) / 180), Math.sin((degree * Math.PI) / 180));
      const at = (r: number) => add(centre, scale(along, r));
      expect(containsPoint(after, at(R - 0.002))).toBe(true);
      expect(containsPoint(after, at(R + 0.003))).toBe(false);
    }
  });
});

describe('a wall that is picked alone', () => {
  it('is finished down to its foot, and no further', () => {
    const { d, op } = sound(
      shaft({ extendBehind: 0 }, (job) => Object.assign(job.operations.finish, { span: { from: 'c', to: 'c' } })),
    );
    expect(d.coverage.filter((c) => c.state === 'finished').map((c) => c.element)).toContain('c');
    const cut = movesOf(op.events).filter((m) => m.event.purpose === 'cut');
    // the nose of 0.4 comes to the foot of the wall at ⌀20 and stays in front of it
    expect(Math.min(...cut.map((m) => 2 * m.to.X))).toBeCloseTo(20, 6);
    expect(Math.min(...cut.map((m) => m.to.Z))).toBeCloseTo(-12, 6);
    expect(Math.max(...cut.map((m) => m.to.Z))).toBeLessThan(-11.99);
  });
});

describe('the way in', () => {
  const entry = (lead: string, leadLength: number | null = null) => {
    const { op } = sound(shaft({ lead, leadLength }));
    const way = movesOf(op.events).find((m) => m.event.purpose === 'lead-in');
    if (!way) throw new Error('no way in');
    return way;
  };
  it('is tangent to the contour and as long as it says', () => {
    const way = entry('tangent', 2.5);
    expect(distance(way.curve.from, way.curve.to)).toBeCloseTo(2.5, 6);
    expect(way.from.Z).toBeGreaterThan(way.to.Z);
    expect(way.from.X).toBeCloseTo(way.to.X, 9);
  });
  it('is square to it', () => {
    const way = entry('square', 1.5);
    expect(way.from.Z).toBeCloseTo(way.to.Z, 9);
    expect(way.from.X - way.to.X).toBeCloseTo(1.5, 6);
  });
  it('is a quarter of an arc that ends along it', () => {
    const way = entry('arc', 2);
    expect(way.curve.kind).toBe('arc');
    if (way.curve.kind !== 'arc') return;
    expect(arcRadius(way.curve)).toBeCloseTo(2, 6);
    expect(way.curve.centre.x).toBeCloseTo(way.to.Z, 6);
  });
  it('and the way out are chosen apart: square out, or in an arc that begins along the contour', () => {
    // out of the front, where it is free
    const exit = (leadOut: string, leadOutLength: number) => {
      const { op } = sound(
        shaft({ leadOut, leadOutLength, direction: 'away' }, (job) =>
          Object.assign(job.operations.finish, { span: { from: 'b', to: 'd' } }),
        ),
      );
      const way = movesOf(op.events).findLast((m) => m.event.purpose === 'lead-out');
      if (!way) throw new Error('no way out');
      return way;
    };
    const square = exit('square', 1.5);
    expect(square.to.X - square.from.X).toBeCloseTo(1.5, 6);
    expect(square.to.Z).toBeCloseTo(square.from.Z, 9);
    const bow = exit('arc', 0.5).curve;
    expect(bow.kind).toBe('arc');
    if (bow.kind !== 'arc') return;
    expect(arcRadius(bow)).toBeCloseTo(0.5, 6);
    // it leaves ⌀20 along it, away from the chuck and away from the axis
    expect(bow.centre.x).toBeCloseTo(bow.from.x, 6);
    expect(bow.from.y).toBeCloseTo(10, 6);
    expect(bow.to.x).toBeCloseTo(bow.from.x + 0.5, 6);
    expect(bow.to.y).toBeCloseTo(bow.from.y + 0.5, 6);
  });
  it('does not count in a cycle, nor does a nose that was to be computed: both are told', () => {
    const job = shaft({ output: 'cycle', leadOut: 'square' }, (j) =>
      Object.assign(j.operations.rough.params, { output: 'cycle', passes: 'falling' }),
    );
    const told = derive(job).findings.flatMap((f) => (f.code === 'cycle-own-way' ? [[f.operation, f.numbers]] : []));
    expect(told).toEqual([
      ['rough', { what: 'takes equal passes' }],
      ['finish', { what: 'shifts the nose itself by G41/G42 and has its own way in and out' }],
    ]);
  });
  it('gives way where it is not free', () => {
    const job = structuredClone(demoJob('LM-118'));
    for (const o of Object.values(job.operations))
      if (o.kind === 'inner-finish') Object.assign(o.params, { lead: 'square', leadLength: 20 });
    const d = derive(job);
    expect(d.findings.filter((f) => f.severity === 'blocking')).toEqual([]);
    expect(proveJob(job, d, postJob(job, d, '').map(programText)).agrees).toBe(true);
  });
});
