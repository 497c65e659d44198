import { type Finding, note } from '../../findings';
import { heightAt, type Point, point } from '../../geometry';
import {
  firstDepthFor,
  infeedDepths,
  infeedShift,
  MOST_THREAD_PASSES,
  pitchWithin,
  runInLength,
  spiralByName,
  type ThreadForm,
  tapersAs,
  threadDepth,
} from '../../threads';
import { toolFacts } from '../../tooling';
import { tenthsUp } from '../../units';
import { closeOperation, EventList, openOperation } from '../events';
import { FACE, INNER, OUTER } from '../frame';
import { defineKind, type Need, type Starting } from '../kind';
import { groundOf, type SpanRange, spanRange, viewOf } from '../turning';
import { nothing, type Planned, type Seen, topOver } from '../types';
import { type CycleQuestion, passCycle, threadCycle } from './cycle';
import { guessedThread } from './guess';
import { threadOn } from './onPart';
import { firstMetal, freeAlong, freeOfBar, freeUntil, type ThreadLine, threadLine } from './run';
import {
  FaceThreadSchema,
  formOf,
  InnerThreadSchema,
  OuterThreadSchema,
  sideOf,
  spiralFields,
  type ThreadOperation,
  threadFields,
} from './schema';
import { threadSketch } from './sketch';

const round = (v: number): number => Math.round(v * 1000) / 1000;

/** Radius of a root at the most, as a share of the pitch: H/6 of 60°, 0.137 of 55°, and a little for the grinding. */
const ROUNDEST_ROOT = 0.15;

/** What stands against thread, insert and surface, before any path. */
const formFindings = (
  op: ThreadOperation,
  seen: Seen,
  form: ThreadForm,
  t: ThreadLine,
  range: SpanRange,
): Finding[] => {
  const found: Finding[] = [];
  const surface = 2 * Math.abs(range.maxV);
  const side = sideOf(op);
  const edge = toolFacts(seen.tool).thread;
  if (!edge) return found;
  if (Math.abs(edge.angle - form.angle) > 0.1)
    found.push(
      note('blocking', 'thread-flanks', op.id, { thread: form.designation, needs: form.angle, found: edge.angle }),
    );
  else if (!pitchWithin(form.pitch, edge))
    found.push(
      note('blocking', 'thread-pitch', op.id, {
        thread: form.designation,
        pitch: form.pitch,
        least: edge.pitchMin,
        most: edge.pitchMax,
      }),
    );
  const roundest = ROUNDEST_ROOT * form.pitch;
  if (edge.profile === 'partial' && form.family !== 'trapezoidal' && edge.noseRadius > roundest + 1e-6)
    found.push(
      note('blocking', 'thread-nose', op.id, { thread: form.designation, nose: edge.noseRadius, most: roundest }),
    );
  const crest = 2 * Math.abs(t.crest(t.front));
  const slack = 0.15 * form.pitch;
  const [least, most] = side === 'outer' ? [crest - slack, crest + 0.02] : [crest - 0.02, crest + slack * 1.4];
  if (side !== 'face' && form.taper === 0 && (surface < least - 1e-6 || surface > most + 1e-6))
    found.push(note('attention', 'thread-diameter', op.id, { thread: form.designation, found: surface, least, most }));
  const length = range.maxU - range.minU;
  const grows = (2 * (range.maxV - range.minV)) / Math.max(1e-9, length);
  // a thread that grows cuts into a cylinder at one end and not at all at the other
  if (side !== 'face' && form.taper > 0 && !tapersAs(form, grows))
    found.push(
      note('attention', 'thread-taper', op.id, {
        thread: form.designation,
        found: grows * length,
        wanted: form.taper * length,
        length,
        front: 2 * Math.abs(t.crest(t.front)),
      }),
    );
  if (op.params.depth !== null) {
    const by = threadDepth(form, side, edge);
    if (Math.abs(op.params.depth - by) > 0.02 * form.pitch)
      found.push(
        note('attention', 'thread-depth', op.id, { typed: op.params.depth, by, off: op.params.depth - by }, null, {
          remedy: { label: 'Depth by the standard', set: { [`/operations/${op.id}/params/depth`]: null } },
        }),
      );
  }
  return found;
};

/** Metal that stands higher over a thread's crest than this was not turned before it, mm: rounding and roughness are less. */
const PROUD = 0.03;

/** The surface a thread is cut into is not turned yet: how far metal stands over its crest, away from both its ends. */
const stockFindings = (op: ThreadOperation, seen: Seen, t: ThreadLine, pitch: number): Finding[] => {
  const length = t.front - t.back;
  const inset = Math.min(pitch, length / 4);
  const step = Math.max((length - 2 * inset) / 40, 1e-3);
  let over = 0;
  let at = t.front;
  for (let u = t.back + inset; u <= t.front - inset + 1e-9; u += step) {
    const up = seen.metal.top(u - step / 2, u + step / 2) - t.crest(u);
    if (up > over) [over, at] = [up, u];
  }
  if (over <= PROUD) return [];
  const { frame } = viewOf(seen);
  return [
    note(
      over > t.depth / 2 ? 'blocking' : 'attention',
      'thread-on-stock',
      op.id,
      { over, depth: t.depth },
      frame.out(point(at, t.crest(at))),
    ),
  ];
};

/** A relief of the part at the end of the passes that is not cut yet. */
const reliefFindings = (
  op: ThreadOperation,
  seen: Seen,
  t: ThreadLine,
  { to, way }: { readonly to: number; readonly way: number },
): Finding[] => {
  const { frame } = viewOf(seen);
  const ground = groundOf(seen, frame, 0);
  const begin = way < 0 ? t.back : t.front;
  let [over, at] = [0, begin];
  for (let k = 1; k <= 20; k++) {
    const u = begin + ((to - begin) * k) / 20;
    const root = t.root(u);
    const up = seen.metal.top(u - 1e-3, u + 1e-3) - root;
    if ((heightAt(ground, u) ?? Number.POSITIVE_INFINITY) < root - 0.02 && up > over) [over, at] = [up, u];
  }
  return over > t.depth / 2
    ? [note('attention', 'thread-relief-uncut', op.id, { over }, frame.out(point(at, t.root(at))))]
    : [];
};

/** First infeed that an edge bears, mm: little for a fine pitch, and never most of the form. */
const firstMost = (pitch: number, depth: number): number => Math.min(0.25 + 0.15 * pitch, 0.6 * depth);

/** Where the passes begin and end along the frame, and what is wrong with that. */
const ends = (op: ThreadOperation, seen: Seen, t: ThreadLine, lead: number, speed: number, toChuck: boolean) => {
  const view = viewOf(seen);
  const { runIn, runOut, length, infeed, infeedAngle } = op.params;
  // passes along the flank begin further on: the last of them needs its run-in too
  const shift =
    infeed === 'straight' ? 0 : (infeed === 'flank' ? 1 : 2) * t.depth * Math.tan((infeedAngle * Math.PI) / 180);
  const slide = slideOf(op, seen);
  const needed = Math.max(runInLength(speed, lead, slide.acceleration) + 0.1, seen.place.safeDistance, lead);
  const before = (runIn ?? tenthsUp(needed)) + shift;
  /** Speed at which the slide needs no more room than there is; null where it would be none. */
  const speedFor = (room: number): number | null => {
    const free = Math.floor(room * 10 + 1e-9) / 10;
    if (free < Math.max(seen.place.safeDistance, lead)) return null;
    const most = speed * Math.sqrt(Math.max(0, free - 0.1) / runInLength(speed, lead, slide.acceleration));
    const slower = Math.floor(most / 10) * 10;
    return slower > 0 && slower < speed ? slower : null;
  };
  const after = runOut ?? (length === null ? lead : 0);
  const free = freeAlong(seen, view, t, length === null, Math.max(before, after) + 20);
  // where passes begin behind, the bar there is in their way as it is where they end
  const overBar = freeOfBar(seen, view, t);
  const way = toChuck ? -1 : 1;
  const start = firstMetal(seen, view, t, way);
  const end = toChuck ? t.back : t.front;
  const findings: Finding[] = [];
  const place = (u: number): Point => view.frame.out(point(u, t.crest(u)));
  const middle = (t.front + t.back) / 2;
  const from = freeUntil((u) => free(u) && overBar(u), middle, start - way * before);
  const room = -way * (from - start);
  if (room < before - 2e-3) {
    const slower = runIn === null ? speedFor(room - shift) : null;
    findings.push(
      note(
        'blocking',
        'thread-run-in',
        op.id,
        { free: Math.max(0, room - shift), needed: before - shift },
        place(start),
        slower === null
          ? {}
          : {
              remedy: {
                label: `${slower} rev/min`,
                set: { [`/operations/${op.id}/cutting/speed/value`]: slower },
              },
            },
      ),
    );
  } else if (runIn !== null && runIn < needed - 0.1)
    findings.push(
      note('attention', 'thread-run-in-short', op.id, { given: runIn, needed: tenthsUp(needed) }, place(start)),
    );
  // a spiral ends at the centre at the latest
  const last = op.kind === 'face-thread' && way < 0 ? Math.max(0, end - after) : end + way * after;
  const open = freeUntil(free, middle, last);
  const reached = freeUntil(overBar, middle, open);
  const beyond = way * (reached - end);
  if (beyond < -0.02)
    findings.push(
      way * (open - reached) > 1e-6
        ? note('attention', 'thread-behind', op.id, { missing: -beyond, further: way * (open - reached) }, place(end))
        : note('attention', 'thread-short', op.id, { missing: -beyond }, place(end)),
    );
  else if (runOut !== null && beyond < runOut - 2e-3)
    findings.push(note('attention', 'thread-run-out', op.id, { given: runOut, free: Math.max(0, beyond) }, place(end)));
  return { from: round(start - way * before), to: round(reached), way, findings, view };
};

/** The slide that runs in step with the spindle. */
const slideOf = (op: ThreadOperation, seen: Seen) => seen.place.slides[op.kind === 'face-thread' ? 'X' : 'Z'];

const planThread = (op: ThreadOperation, seen: Seen): Planned => {
  const { params } = op;
  const output = 'output' in params ? params.output : 'moves';
  const side = sideOf(op);
  const form = formOf(op);
  if (!form)
    return nothing([
      note('blocking', side === 'face' ? 'spiral-unknown' : 'thread-unknown', op.id, { name: params.thread }),
    ]);
  const { frame, noseRadius } = viewOf(seen);
  const range = spanRange(seen, frame);
  if (!range) return nothing([note('blocking', seen.contour.present ? 'span-lost' : 'no-bore', op.id, {})]);
  const { speed } = op.cutting;
  const across = side === 'face' ? 2 * range.maxU : form.major;
  const fixed = Math.round(Math.min(seen.place.clamp, (1000 * speed.value) / (Math.PI * across)));
  if (speed.mode === 'surface')
    return nothing([
      note('blocking', 'thread-needs-speed', op.id, {}, null, {
        remedy: {
          label: `${fixed} rev/min`,
          set: { [`/operations/${op.id}/cutting/speed`]: { mode: 'fixed', value: fixed } },
        },
      }),
    ]);
  const t = threadLine(form, side, seen, range, params.length, params.depth);
  const findings = formFindings(op, seen, form, t, range);
  const lead = form.pitch * params.starts;
  const turns = Math.min(speed.value, seen.place.clamp);
  const { rapid } = slideOf(op, seen);
  if (turns * lead > rapid) {
    const most = Math.floor(rapid / lead / 10) * 10;
    findings.push(
      note('blocking', 'thread-too-fast', op.id, { speed: turns, most, lead }, null, {
        remedy: { label: `${most} rev/min`, set: { [`/operations/${op.id}/cutting/speed/value`]: most } },
      }),
    );
  }
  findings.push(...stockFindings(op, seen, t, form.pitch));
  if (findings.some((f) => f.severity === 'blocking')) return nothing(findings);
  // a right-hand thread: forward toward the chuck, or in reverse away from it (machining.md)
  const toChuck = (params.hand === 'right') === (seen.section.spindle === 'forward');
  const run = ends(op, seen, t, lead, turns, toChuck);
  findings.push(...run.findings, ...reliefFindings(op, seen, t, run));
  const surfaceLength = range.maxU - range.minU;
  if (params.length !== null && params.length > surfaceLength + 1e-3)
    findings.push(
      note('attention', 'thread-too-long', op.id, { typed: params.length, surface: surfaceLength }, null, {
        remedy: { label: 'As long as the surface', set: { [`/operations/${op.id}/params/length`]: null } },
      }),
    );
  if (run.findings.some((f) => f.severity === 'blocking')) return nothing(findings);
  const first = round(
    params.first ?? (params.mode === 'fixed' ? t.depth / params.passes : firstDepthFor(t.depth, params.passes)),
  );
  const infeed = { depth: t.depth, first, least: round(params.least), finish: round(params.finish), mode: params.mode };
  const most = firstMost(form.pitch, t.depth);
  if (first > most + 1e-3) {
    const passes = Math.ceil((params.mode === 'fixed' ? t.depth / most : (t.depth / most) ** 2) - 1e-9);
    findings.push(note('attention', 'thread-first-deep', op.id, { first, most, passes }));
  }
  const asked: CycleQuestion = { op, seen, form, depths: infeed };
  const cycle = output === 'cycle' ? threadCycle(asked) : output === 'passes' ? passCycle(asked) : null;
  if (cycle && 'reason' in cycle) findings.push(note('info', 'cycle-not-possible', op.id, { reason: cycle.reason }));
  const asCycle = cycle !== null && !('reason' in cycle);
  const depths = infeedDepths(infeed, !(asCycle && output === 'cycle'));
  if (!depths)
    return nothing([
      ...findings,
      note('blocking', 'too-much-work', op.id, {
        what: 'The number of passes',
        number: t.depth / Math.max(1e-6, infeed.least),
        most: MOST_THREAD_PASSES,
      }),
    ]);
  const all = [...depths, ...Array.from({ length: params.springPasses }, () => t.depth)];

  const list = new EventList(op.id, seen.section.tip);
  const safe = seen.place.safeDistance;
  const [low, high] = [Math.min(run.from, run.to), Math.max(run.from, run.to)];
  const top = Math.max(topOver(seen, low - noseRadius, high + noseRadius), t.crest(run.from), t.crest(run.to));
  // the tip's own places lie on the control's grid: the cycle counts from them
  const clear = round(top + safe) + noseRadius;
  const gate = Math.max(seen.metal.right, seen.contour.front, high) + noseRadius + safe * 3;
  const at = (u: number, v: number): Point => frame.out(point(u, v));
  // the way there is over all that stands in front
  const way = Math.max(clear, topOver(seen, low - noseRadius, gate) + safe + noseRadius);
  openOperation(list, seen, op.cutting);
  list.rapid('approach', at(gate, way));
  if (way > clear) list.rapid('approach', at(run.from, way));
  list.rapid('approach', at(run.from, clear));
  const taper = Math.abs(t.root(run.to)) - Math.abs(t.root(run.from));
  if (asCycle && output === 'passes')
    list.add('cut', {
      kind: 'cycle',
      cycle: {
        kind: 'thread-passes',
        start: list.tipOf(at(run.from, clear)),
        endZ: list.tipOf(at(run.to, clear)).Z,
        passes: all.map((depth) => list.tipOf(at(run.to, t.crest(run.to) - depth + noseRadius)).X),
        lead,
        taper,
      },
    });
  else if (asCycle)
    list.add('cut', {
      kind: 'cycle',
      cycle: {
        kind: 'thread',
        start: list.tipOf(at(run.from, clear)),
        end: list.tipOf(at(run.to, t.root(run.to) + noseRadius)),
        height: t.depth,
        first: infeed.first,
        least: infeed.least,
        finish: infeed.finish,
        springPasses: params.springPasses,
        angle: params.infeed === 'straight' ? 0 : params.infeedAngle * 2,
        lead,
        taper,
      },
    });
  const crest = [at(run.from, t.crest(run.from)), at(run.to, t.crest(run.to))].map((p) => ({ X: p.y, Z: p.x }));
  all.forEach((depth, i) => {
    const shift = run.way * infeedShift(params.infeed, depth, t.depth, params.infeedAngle, i + 1);
    const v = (u: number): number => t.crest(u) - depth + noseRadius;
    for (let k = 0; k < params.starts; k++) {
      list.rapid('link', at(run.from + shift, clear));
      list.rapid('approach', at(run.from + shift, v(run.from)));
      list.thread(at(run.to, v(run.to)), lead, (360 * k) / params.starts, [crest[0], crest[1]]);
      list.rapid('retract', at(run.to, clear));
      list.rapid('link', at(run.from, clear));
    }
  });
  if (asCycle) list.add('cut', { kind: 'cycle-end' });
  if (way > clear) list.rapid('retract', at(run.from, way));
  list.rapid('retract', at(gate, way));
  closeOperation(list, seen);
  return { events: list.events, findings, depth: depths[0], contourKey: null };
};

const validate = ({ params }: ThreadOperation, need: Need): void => {
  const whole = (v: number): boolean => Number.isInteger(v);
  need(
    whole(params.starts) && params.starts >= 1 && params.starts <= 12,
    'Starts',
    params.starts,
    'a whole number, 1 to 12',
  );
  need(
    whole(params.passes) && params.passes >= 1 && params.passes <= 100,
    'Passes',
    params.passes,
    'a whole number, 1 to 100',
  );
  need(
    whole(params.springPasses) && params.springPasses >= 0 && params.springPasses <= 10,
    'Spring passes',
    params.springPasses,
    'a whole number, 0 to 10',
  );
  need(params.length === null || params.length > 0, 'Length', params.length ?? 0, 'above 0');
  need(
    params.depth === null || (params.depth > 0 && params.depth < 50),
    'Depth',
    params.depth ?? 0,
    'above 0 and below 50 mm',
  );
  need(params.first === null || params.first > 0, 'First depth', params.first ?? 0, 'above 0');
  need(params.least >= 0.005, 'Least depth', params.least, 'at least 0.005 mm');
  need(params.finish >= 0 && params.finish < 1, 'Last pass', params.finish, '0 to below 1 mm');
  need(params.infeedAngle >= 0 && params.infeedAngle <= 45, 'Infeed angle', params.infeedAngle, '0 to 45°');
  need(params.runIn === null || params.runIn >= 0, 'Run-in', params.runIn ?? 0, '0 or more');
  need(params.runOut === null || params.runOut >= 0, 'Run-out', params.runOut ?? 0, '0 or more');
};

/** Usual number of passes for a pitch. */
const passesFor = (pitch: number): number => Math.max(4, Math.round(3.2 + 2.9 * pitch));

const starting =
  (side: 'outer' | 'inner') =>
  (facts: Starting): Record<string, unknown> => {
    const form = guessedThread(facts, side);
    if (!form) return {};
    return {
      thread: form.designation,
      passes: passesFor(form.pitch),
      infeedAngle: form.angle / 2 - 2.5,
    };
  };

const common = {
  fields: threadFields,
  purpose: 'thread',
  target: 'span',
  covers: 'thread',
  needsHole: false,
  deep: false,
  leads: true,
  validate,
  threadOn,
  sketch: threadSketch,
  plan: planThread,
} as const;

export const outerThread = defineKind({
  ...common,
  kind: 'outer-thread',
  schema: OuterThreadSchema,
  label: 'Outside thread',
  short: 'thread',
  tools: ['threading'],
  needs: 'an outside threading tool',
  side: 'outer',
  rank: 70,
  offeredFor: ['outer'],
  starting: starting('outer'),
  frame: () => OUTER,
});

export const innerThread = defineKind({
  ...common,
  kind: 'inner-thread',
  schema: InnerThreadSchema,
  label: 'Inside thread',
  short: 'inside thread',
  tools: ['threading-bar'],
  needs: 'an inside threading bar',
  side: 'inner',
  rank: 75,
  offeredFor: ['inner'],
  starting: starting('inner'),
  frame: () => INNER,
});

/** Pitch of a spiral that nobody has asked for yet, mm. */
const USUAL_SPIRAL = 1.5;

export const faceThread = defineKind({
  ...common,
  fields: spiralFields,
  kind: 'face-thread',
  schema: FaceThreadSchema,
  label: 'Face thread',
  short: 'face thread',
  tools: ['face-threading'],
  needs: 'a face threading tool',
  side: 'outer',
  rank: 72,
  offeredFor: ['outer'],
  onlyWhereAsked: 'A spiral on the face, where the drawing asks for one.',
  starting: ({ part, span, tool }) => {
    const e = span && span.from === span.to ? part.outer.find((k) => k.id === span.from) : undefined;
    if (e?.curve.kind !== 'line' || Math.abs(e.curve.to.x - e.curve.from.x) > 1e-6) return {};
    const edge = tool ? toolFacts(tool).thread : undefined;
    const pitch = edge ? Math.min(edge.pitchMax, Math.max(edge.pitchMin, USUAL_SPIRAL)) : USUAL_SPIRAL;
    const angle = edge?.angle ?? 60;
    const form = spiralByName(angle === 60 ? `P${pitch}` : `P${pitch}x${angle}`);
    return form ? { thread: form.designation, passes: passesFor(pitch), infeedAngle: angle / 2 - 2.5 } : {};
  },
  frame: () => FACE,
});
