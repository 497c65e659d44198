import { mkdirSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { Command } from 'commander';
import { wordPartProblem } from '../core/checks';
import { wordFinding } from '../core/findings';
import type { Curve } from '../core/geometry';
import { machineJsonSchema } from '../core/machine';
import { isMove } from '../core/motion';
import { PROOF_LIMIT, postJob, programName, programText, proveJob, runsOf } from '../core/nc';
import {
  buildPart,
  layersOfPart,
  listFeatures,
  revolveMesh,
  writeDxf,
  writeRegionSvg,
  writeStl,
  writeSvg,
} from '../core/part';
import { type Derived, type Job, jobJsonSchema, operationOf, rawStockOf } from '../core/plan';
import { bestOrder } from '../core/plan/order';
import type { Body } from '../core/stock';
import { bringFile } from '../solid/bringFile';
import { kindOfFile } from '../solid/wishes';
import { deriveWithin, EXIT_BAD_INPUT, EXIT_BLOCKED, InputError, type Io, loadJob, readBytes } from './io';
import { machineLines, reachTable } from './machine';
import { machineOf, programsIn, readOutside } from './outside';
import { amount, type ImportOptions, wishesOf } from './wishes';

const findingsOf = (d: Derived) => [
  ...d.part.problems.map((p) => ({
    severity: 'blocking' as const,
    code: p.code,
    operation: null,
    ...wordPartProblem(p),
    at: p.at ? [p.at.x, p.at.y] : null,
  })),
  ...d.findings.map((f) => ({
    severity: f.severity,
    code: f.code,
    operation: f.operation,
    ...wordFinding(f),
    at: f.at ? [f.at.x, f.at.y] : null,
  })),
];

const seconds = (v: number): string => `${Math.floor(v / 60)}:${(v % 60).toFixed(1).padStart(4, '0')}`;
const rounded = (v: number): number => Math.round(v * 1e6) / 1e6;
const bodyOut = (b: Body) => ({
  polygons: b.turnedOutline.map((ring) => ring.map((p) => [rounded(p.x), rounded(p.y)])),
  volume: b.volume,
});

const elementJson = (c: Curve) =>
  c.kind === 'line'
    ? { kind: 'line', from: [rounded(c.from.x), rounded(c.from.y)], to: [rounded(c.to.x), rounded(c.to.y)] }
    : {
        kind: 'arc',
        from: [rounded(c.from.x), rounded(c.from.y)],
        to: [rounded(c.to.x), rounded(c.to.y)],
        centre: [rounded(c.centre.x), rounded(c.centre.y)],
        clockwise: c.clockwise,
      };

/** Where in the plan an event of a channel stands: its operation, and where it goes. */
const placeOf = (job: Job, d: Derived, channel: string, event: number): string => {
  const e = d.program.channels.find((c) => c.channel === channel)?.events[event];
  if (!e) return 'at its end';
  const name = operationOf(job, e.op)?.name ?? e.op;
  const to = isMove(e) && e.to.X !== undefined && e.to.Z !== undefined ? e.to : null;
  return `in “${name}”${to ? ` on the way to X${(2 * (to.X ?? 0)).toFixed(3)} Z${(to.Z ?? 0).toFixed(3)}` : ''}`;
};

/** The solid kernel, loaded when a solid is read or written. */
const kernel = async () => (await import('../solid/kernelHere')).kernelHere();

const commands = (io: Io): Command => {
  const program = new Command('lively')
    .description('Lively Spindle without a browser: check, time, post and prove job files.')
    .exitOverride();

  program
    .command('check')
    .argument('<job>', 'job file')
    .option('--json')
    .description('List what stands against the job')
    .action((file: string, o: { json?: boolean }) => {
      const d = deriveWithin(loadJob(file));
      const findings = findingsOf(d);
      io.print(Boolean(o.json), { findings }, () =>
        findings.length === 0
          ? ['Nothing stands against this job.']
          : findings.map((f) => `${f.severity.padEnd(9)} ${f.operation ?? 'job'}: ${f.message} ${f.remedy}`),
      );
      if (findings.some((f) => f.severity === 'blocking')) io.exit(EXIT_BLOCKED);
    });

  program
    .command('time')
    .argument('<job>')
    .option('--json')
    .description('Cycle time by channel and operation')
    .action((file: string, o: { json?: boolean }) => {
      const job = loadJob(file);
      const d = deriveWithin(job);
      const value = {
        total: d.timeline.total,
        channels: d.timeline.channels.map((c) => ({ id: c.id, total: c.total })),
        operations: d.operations.map((k) => ({
          id: k.id,
          name: `${job.operations[k.operation].name}${k.time ? ` ${k.time.number} of ${k.time.count}` : ''}`,
          channel: k.channel,
          cutting: k.times.cutting,
          rapid: k.times.rapid,
          other: k.times.other,
        })),
      };
      io.print(Boolean(o.json), value, () => [
        ...value.operations.map(
          (k) =>
            `${k.name.padEnd(28)} cutting ${seconds(k.cutting)}  rapid ${seconds(k.rapid)}  other ${seconds(k.other)}`,
        ),
        `total ${seconds(value.total)}`,
      ]);
      if (d.timeline.kind === 'deadlock') io.exit(EXIT_BLOCKED);
    });

  program
    .command('post')
    .argument('<job>')
    .requiredOption('--out <dir>', 'folder for the programs')
    .option('--date <date>', 'date in the head', new Date().toISOString().slice(0, 10))
    .option('--json')
    .description('Write one program for each channel')
    .action((file: string, o: { out: string; date: string; json?: boolean }) => {
      const job = loadJob(file);
      const d = deriveWithin(job);
      mkdirSync(o.out, { recursive: true });
      const stem = basename(file).replace(/\.spindle\.json$|\.json$/, '');
      const programs = postJob(job, d, o.date);
      const problems = programs.flatMap((p) =>
        p.problems.map((k) => ({ channel: p.channel, operation: k.op, what: k.what })),
      );
      const files = programs.map((p) => {
        const path = join(o.out, programName(stem, p));
        writeFileSync(path, programText(p));
        return { channel: p.channel, file: path, lines: p.lines.length };
      });
      io.print(Boolean(o.json), { files, problems }, () => [
        ...files.map((f) => `${f.file} (${f.lines} lines)`),
        ...problems.map((p) => `channel ${p.channel}, ${p.operation}: the control cannot say ${p.what}.`),
      ]);
      if (files.length === 0 || problems.length > 0 || d.findings.some((f) => f.severity === 'blocking'))
        io.exit(EXIT_BLOCKED);
    });

  program
    .command('prove')
    .argument('<job>')
    .option('--programs <dir>', 'hold the programs of this folder against the plan, in place of those posted here')
    .option('--json')
    .description('Post, read the text back and hold it against the plan')
    .action((file: string, o: { programs?: string; json?: boolean }) => {
      const job = loadJob(file);
      const d = deriveWithin(job);
      const texts = o.programs
        ? programsIn(o.programs, job.machine, runsOf(d).length).map((p) => p.text)
        : postJob(job, d, '').map(programText);
      const proof = proveJob(job, d, texts);
      io.print(Boolean(o.json), proof, () => [
        proof.agrees ? 'The program does what the plan says.' : 'The program and the plan differ.',
        ...(proof.blocked > 0
          ? [`${proof.blocked} finding${proof.blocked > 1 ? 's' : ''} block the plan itself; “check” tells them.`]
          : []),
        Number.isFinite(proof.maxDeviation)
          ? `greatest path deviation ${proof.maxDeviation.toFixed(5)} mm over ${proof.moves} moves`
          : `a planned way is not in the text, or the text has one that is not planned (${proof.moves} moves)`,
        `final stock differs by at most ${proof.stock.thickness.toFixed(5)} mm (${proof.stock.volume.toFixed(2)} against ${proof.stock.plannedVolume.toFixed(2)} mm³)`,
        ...proof.channels.flatMap((c) => [
          ...c.problems.map((p) => `channel ${c.id}, line ${p.line}: ${p.message}`),
          ...(c.maxDeviation > PROOF_LIMIT && c.at !== null
            ? [`channel ${c.id}: the path differs most ${placeOf(job, d, c.id, c.at)}`]
            : []),
          ...c.differences.map(
            (k) => `channel ${c.id}: ${k.what} planned ${k.planned}, read ${k.read}, ${placeOf(job, d, c.id, k.event)}`,
          ),
        ]),
      ]);
      if (!proof.ok) io.exit(EXIT_BLOCKED);
    });

  program
    .command('read')
    .argument('<dir>', 'folder with one program for each channel')
    .requiredOption('--machine <id>', 'machine of the shop, or a machine file')
    .option('--tools <job>', 'job file whose tools stand in the turret; else every offset is a sharp tip')
    .option('--json')
    .description('Interpret programs without a plan: moves, times, problems with their lines')
    .action((dir: string, o: { machine: string; tools?: string; json?: boolean }) => {
      const machine = machineOf(o.machine);
      const programs = programsIn(dir, machine);
      const value = readOutside(machine, programs, o.tools ? loadJob(o.tools) : null);
      io.print(Boolean(o.json), value, () => [
        ...value.channels.map((c) => `channel ${c.id}: ${c.moves} moves in ${seconds(c.total)} (${c.file})`),
        ...value.channels.flatMap((c) => c.problems.map((p) => `${c.file}, line ${p.line}: ${p.message}`)),
        ...(value.deadlock ? ['The channels wait for each other and never go on.'] : []),
      ]);
      if (value.deadlock || value.channels.some((c) => c.problems.length > 0)) io.exit(EXIT_BLOCKED);
    });

  program
    .command('section')
    .argument('<job>')
    .option('--after <operation>', 'operation id; the raw stock without it')
    .option('--format <format>', 'json, svg or dxf', 'json')
    .option('--json')
    .description('Stock in section after an operation; after a cutoff the piece that came off')
    .action((file: string, o: { after?: string; format: string; json?: boolean }) => {
      const job = loadJob(file);
      const d = deriveWithin(job);
      let region = rawStockOf(d);
      let remnant: Body | null = null;
      if (o.after !== undefined) {
        const op = d.operations.find((k) => k.id === o.after);
        if (!op)
          throw new InputError(
            `${file}: there is no operation “${o.after}”. Choose one of ${d.operations.map((k) => k.id).join(', ')}.`,
          );
        const last = d.operations.at(-1)?.id === op.id;
        region = last ? d.finished : op.after;
        if (last && d.finished !== op.after) remnant = d.finalStock;
      }
      if (o.format === 'svg') io.out(writeRegionSvg(region.turnedOutline));
      else if (o.format === 'dxf') io.out(writeDxf([{ name: 'STOCK', curves: [], rings: region.turnedOutline }]));
      else if (o.format === 'json')
        io.out(`${JSON.stringify({ ...bodyOut(region), ...(remnant ? { remnant: bodyOut(remnant) } : {}) })}\n`);
      else throw new InputError(`The format “${o.format}” is not known. Use json, svg or dxf.`);
    });

  program
    .command('import')
    .argument('<file>', 'STEP solid, STL mesh or DXF drawing')
    .option('--solid <n>', 'which solid of the file, from 1', '1')
    .option('--section <kind>', 'silhouette (swept about the axis) or cut', 'silhouette')
    .option('--angle <degrees>', 'angle of the cut', '0')
    .option('--axis-face <n>', 'turn about the axis of this face, from 1')
    .option('--turn <degrees>', 'turn the part about its axis', '0')
    .option('--flip', 'front and back change places')
    .option('--scale <factor>', 'factor on all lengths of a solid', '1')
    .option('--unit <unit>', 'mm or inch, for STL and DXF')
    .option('--layers <names>', 'layers of a DXF, with commas')
    .option('--gap <mm>', 'gap that a DXF may have')
    .option('--tolerance <mm>', 'fit of a mesh')
    .option('--json')
    .description('Read a solid, mesh or drawing as half-section with features')
    .action(async (file: string, o: ImportOptions) => {
      const kind = kindOfFile(file);
      if (!kind)
        throw new InputError(
          `${file}: only STEP (.step, .stp), STL and DXF files are read. Save the part as one of them.`,
        );
      const brought = await bringFile(kind, readBytes(file), wishesOf(o), kernel);
      const part = brought.part && buildPart(brought.part);
      const features = part && brought.part ? listFeatures(brought.part, part) : [];
      const half = brought.half ?? { outer: [], inner: [], back: [] };
      const value = {
        outer: half.outer.map(elementJson),
        inner: half.inner.map(elementJson),
        back: half.back.map(elementJson),
        features: features.map((f) => ({
          kind: f.kind,
          access: f.access,
          sizes: f.sizes,
          place: f.place,
          angles: f.angles,
          through: f.through,
          proposed: f.proposed,
          words: f.words,
        })),
        axis: brought.axis,
        problems: brought.problems,
      };
      io.print(Boolean(o.json), value, () => [
        `outer: ${value.outer.length} elements`,
        `inner: ${value.inner.length} elements`,
        ...(value.back.length > 0 ? [`bore from the back: ${value.back.length} elements`] : []),
        ...features.map((f) => `${f.access.padEnd(7)} ${f.words}${f.proposed ? ' (fits; not assumed)' : ''}`),
        ...value.problems.map((p) => `${p.severity}: ${p.message}`),
      ]);
      if (value.outer.length === 0) io.exit(EXIT_BAD_INPUT);
      else if (brought.problems.some((p) => p.severity === 'blocking')) io.exit(EXIT_BLOCKED);
    });

  program
    .command('order')
    .argument('<job>', 'job file')
    .option('--json')
    .option('--out <file>', 'write the job in that order')
    .description('Find the order of fewest tool changes that plans as well as the one there is')
    .action((file: string, o: { json?: boolean; out?: string }) => {
      const job = loadJob(file);
      const best = bestOrder(job);
      const name = (id: string): string => `“${job.operations[id].name}”`;
      if (o.out) writeFileSync(o.out, `${JSON.stringify({ ...job, order: best.order }, null, 2)}\n`);
      io.print(Boolean(o.json), best, () => [
        best.moved.length === 0
          ? `${best.before.changes} tool changes; no order with fewer keeps what must come first.`
          : `${best.before.changes} → ${best.after.changes} tool changes${best.before.time && best.after.time ? `, ${seconds(best.before.time)} → ${seconds(best.after.time)} a part` : ''}`,
        ...Object.entries(best.order).map(([c, ids]) => `channel ${c}: ${ids.map(name).join(', ')}`),
        ...best.comesBack.map(
          (c) =>
            `its tool comes back for ${name(c.operation)}${c.because ? `: ${name(c.because.first)} stays before ${name(c.because.next)}, ${c.because.why}` : ''}`,
        ),
      ]);
    });

  program
    .command('export')
    .argument('<job>', 'job file')
    .requiredOption('--out <file>', 'file to write: .step, .stl, .dxf or .svg')
    .option('--chord <mm>', 'chord error of a mesh', '0.01')
    .description('Write the part of a job as solid, mesh or drawing')
    .action(async (file: string, o: { out: string; chord: string }) => {
      const job = loadJob(file);
      const part = buildPart(job.part, job.units);
      if (part.boundary.length === 0)
        throw new InputError(
          `${file}: ${part.problems.map((p) => wordPartProblem(p).message).join(' ')} Nothing is written.`,
        );
      const layers = layersOfPart(part);
      if (/\.dxf$/i.test(o.out)) writeFileSync(o.out, writeDxf(layers));
      else if (/\.svg$/i.test(o.out)) writeFileSync(o.out, writeSvg(layers));
      else if (/\.stl$/i.test(o.out))
        writeFileSync(o.out, writeStl(revolveMesh(part.boundary, amount('chord', o.chord))));
      else if (/\.(step|stp)$/i.test(o.out)) {
        await kernel();
        const { revolveSection, stepText } = await import('../solid/revolve');
        writeFileSync(
          o.out,
          await stepText(
            revolveSection(part.boundary),
            `${job.header.number} ${job.header.revision} ${job.header.name}`,
            new Date().toISOString().slice(0, 19),
          ),
        );
      } else throw new InputError(`${o.out}: the ending says no format. Use .step, .stl, .dxf or .svg.`);
    });

  program
    .command('machine')
    .argument('<machine>', 'machine of the shop, or a machine file')
    .option('--json')
    .description('Check a machine, and list how its tools come to the work: axes, words, travel, speed')
    .action((name: string, o: { json?: boolean }) => {
      const machine = machineOf(name);
      io.print(Boolean(o.json), { id: machine.id, reach: reachTable(machine) }, () => machineLines(machine));
    });

  program
    .command('schema')
    .option('--machine', 'of the machine file')
    .description('Print the JSON Schema of the job file')
    .action((o: { machine?: boolean }) => {
      io.out(`${JSON.stringify(o.machine ? machineJsonSchema() : jobJsonSchema(), null, 2)}\n`);
    });
  return program;
};

/** Runs one command line in this process; tests and bin/lively alike. */
export const runCli = async (args: readonly string[]): Promise<{ code: number; out: string; err: string }> => {
  let out = '';
  let err = '';
  let code = 0;
  const io: Io = {
    out: (t) => {
      out += t;
    },
    err: (t) => {
      err += t;
    },
    exit: (c) => {
      code = c;
    },
    print: (json, value, lines) => io.out(json ? `${JSON.stringify(value)}\n` : `${lines().join('\n')}\n`),
  };
  try {
    await commands(io)
      .configureOutput({ writeOut: io.out, writeErr: io.err })
      .parseAsync([...args], { from: 'user' });
  } catch (error) {
    if (error instanceof InputError) {
      io.err(`${error.message}\n`);
      if (args.includes('--json')) io.out(`${JSON.stringify({ error: error.message })}\n`);
      code = EXIT_BAD_INPUT;
    } else if (error instanceof Error && 'exitCode' in error)
      code = (error as { exitCode: number }).exitCode === 0 ? 0 : EXIT_BAD_INPUT;
    else throw error;
  }
  return { code, out, err };
};
