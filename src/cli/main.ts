import { mkdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, join } from 'node:path';
import { Command } from 'commander';
import { wordPartProblem } from '../core/checks';
import { wordFinding } from '../core/findings';
import { type Curve, type Region, regionVolume } from '../core/geometry';
import { postJob, programText, proveJob } from '../core/nc';
import { buildPart, layersOfPart, listFeatures, revolveMesh, writeDxf, writeStl, writeSvg } from '../core/part';
import { type Derived, derive, type Job, jobJsonSchema, readJobText } from '../core/plan';
import { bringFile } from '../solid/bringFile';
import { FILE_LIMIT, kindOfFile, PLAIN_WISHES, type Wishes } from '../solid/wishes';

const EXIT_BLOCKED = 1;
const EXIT_BAD_INPUT = 2;

/** Bad input: told on stderr (or as JSON), exit 2. */
class InputError extends Error {}

const readBytes = (file: string): Uint8Array => {
  try {
    const size = statSync(file).size;
    if (size > FILE_LIMIT)
      throw new InputError(
        `${file}: ${(size / 1048576).toFixed(1)} MB are more than the ${FILE_LIMIT / 1048576} MB that are read. Choose a smaller file.`,
      );
    return readFileSync(file);
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(
      `${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? 'error'}). Check the path.`,
    );
  }
};

const readText = (file: string): string => new TextDecoder().decode(readBytes(file));

const loadJob = (file: string): Job => {
  const read = readJobText(readText(file));
  if (!read.ok)
    throw new InputError(read.problems.map((p) => `${file}${p.place ? `, ${p.place}` : ''}: ${p.message}`).join('\n'));
  return read.job;
};

const print = (json: boolean, value: unknown, lines: () => string[]): void => {
  process.stdout.write(json ? `${JSON.stringify(value)}\n` : `${lines().join('\n')}\n`);
};

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
const polygons = (r: Region): number[][][] => r.map((ring) => ring.map((p) => [rounded(p.x), rounded(p.y)]));

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

const sectionSvg = (region: Region): string => {
  const all = region.flat();
  const minX = Math.min(...all.map((p) => p.x));
  const maxX = Math.max(...all.map((p) => p.x));
  const maxY = Math.max(...all.map((p) => p.y));
  const path = region
    .map((ring) => `M${ring.map((p) => `${p.x.toFixed(4)} ${(-p.y).toFixed(4)}`).join('L')}Z`)
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${minX - 1} ${-maxY - 1} ${maxX - minX + 2} ${maxY + 2}"><path d="${path}" fill="#E9DDB8" stroke="#1F2A30" stroke-width="0.1"/></svg>\n`;
};

const sectionDxf = (region: Region): string =>
  [
    '0',
    'SECTION',
    '2',
    'ENTITIES',
    ...region.flatMap((ring) => [
      '0',
      'LWPOLYLINE',
      '8',
      'stock',
      '90',
      String(ring.length),
      '70',
      '1',
      ...ring.flatMap((p) => ['10', p.x.toFixed(6), '20', p.y.toFixed(6)]),
    ]),
    '0',
    'ENDSEC',
    '0',
    'EOF',
    '',
  ].join('\n');

const program = new Command('lively')
  .description('Lively Spindle without a browser: check, time, post and prove job files.')
  .exitOverride();

program
  .command('check')
  .argument('<job>', 'job file')
  .option('--json')
  .description('List what stands against the job')
  .action((file: string, o: { json?: boolean }) => {
    const d = derive(loadJob(file));
    const findings = findingsOf(d);
    print(Boolean(o.json), { findings }, () =>
      findings.length === 0
        ? ['Nothing stands against this job.']
        : findings.map((f) => `${f.severity.padEnd(9)} ${f.operation ?? 'job'}: ${f.message} ${f.remedy}`),
    );
    if (findings.some((f) => f.severity === 'blocking')) process.exitCode = EXIT_BLOCKED;
  });

program
  .command('time')
  .argument('<job>')
  .option('--json')
  .description('Cycle time by channel and operation')
  .action((file: string, o: { json?: boolean }) => {
    const job = loadJob(file);
    const d = derive(job);
    const value = {
      total: d.timeline.total,
      channels: d.timeline.channels.map((c) => ({ id: c.id, total: c.total })),
      operations: d.operations.map((k) => ({
        id: k.id,
        name: job.operations[k.id].name,
        channel: k.channel,
        cutting: k.times.cutting,
        rapid: k.times.rapid,
        other: k.times.other,
      })),
    };
    print(Boolean(o.json), value, () => [
      ...value.operations.map(
        (k) =>
          `${k.name.padEnd(28)} cutting ${seconds(k.cutting)}  rapid ${seconds(k.rapid)}  other ${seconds(k.other)}`,
      ),
      `total ${seconds(value.total)}`,
    ]);
    if (d.timeline.kind === 'deadlock') process.exitCode = EXIT_BLOCKED;
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
    const d = derive(job);
    mkdirSync(o.out, { recursive: true });
    const stem = basename(file).replace(/\.spindle\.json$|\.json$/, '');
    const files = postJob(job, d, o.date).map((p) => {
      const path = join(o.out, `${stem}-ch${p.channel}.nc`);
      writeFileSync(path, programText(p));
      return { channel: p.channel, file: path, lines: p.lines.length };
    });
    print(Boolean(o.json), { files }, () => files.map((f) => `${f.file} (${f.lines} lines)`));
    if (d.findings.some((f) => f.severity === 'blocking')) process.exitCode = EXIT_BLOCKED;
  });

program
  .command('prove')
  .argument('<job>')
  .option('--json')
  .description('Post, read the text back and hold it against the plan')
  .action((file: string, o: { json?: boolean }) => {
    const job = loadJob(file);
    const d = derive(job);
    const proof = proveJob(job, d, postJob(job, d, '').map(programText));
    print(Boolean(o.json), proof, () => [
      proof.ok ? 'The program does what the plan says.' : 'The program and the plan differ.',
      `greatest path deviation ${proof.maxDeviation.toFixed(5)} mm over ${proof.moves} moves`,
      `final stock differs by at most ${proof.stock.thickness.toFixed(5)} mm (${proof.stock.volume.toFixed(2)} against ${proof.stock.plannedVolume.toFixed(2)} mm³)`,
      ...proof.channels.flatMap((c) => [
        ...c.problems.map((p) => `channel ${c.id}, line ${p.line}: ${p.message}`),
        ...c.differences.map((k) => `channel ${c.id}: ${k.what} planned ${k.planned}, read ${k.read}`),
      ]),
    ]);
    if (!proof.ok) process.exitCode = EXIT_BLOCKED;
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
    const d = derive(job);
    let region = d.rawStock;
    let remnant: Region | null = null;
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
    if (o.format === 'svg') process.stdout.write(sectionSvg(region));
    else if (o.format === 'dxf') process.stdout.write(sectionDxf(region));
    else if (o.format === 'json')
      process.stdout.write(
        `${JSON.stringify({ polygons: polygons(region), volume: regionVolume(region), ...(remnant ? { remnant: { polygons: polygons(remnant), volume: regionVolume(remnant) } } : {}) })}\n`,
      );
    else throw new InputError(`The format “${o.format}” is not known. Use json, svg or dxf.`);
  });

interface ImportOptions {
  readonly solid: string;
  readonly section: string;
  readonly angle: string;
  readonly axisFace?: string;
  readonly turn: string;
  readonly flip?: boolean;
  readonly scale: string;
  readonly unit?: string;
  readonly layers?: string;
  readonly gap?: string;
  readonly tolerance?: string;
  readonly json?: boolean;
}

/** The solid kernel, loaded when a solid is read or written. */
const kernel = async () => {
  const { loadKernel } = await import('../solid/kernel');
  return loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });
};

const amount = (option: string, text: string): number => {
  const v = Number(text);
  if (!Number.isFinite(v)) throw new InputError(`--${option} is “${text}”, which is no number. Give a plain number.`);
  return v;
};
const oneOf = <T extends string>(option: string, text: string, choices: readonly T[]): T => {
  const found = choices.find((c) => c === text);
  if (!found) throw new InputError(`--${option} is “${text}”. Choose ${choices.join(', ')}.`);
  return found;
};

const wishesOf = (o: ImportOptions): Wishes => ({
  step: {
    ...PLAIN_WISHES.step,
    solid: amount('solid', o.solid) - 1,
    section: oneOf('section', o.section, ['silhouette', 'cut']),
    angle: amount('angle', o.angle),
    axisFace: o.axisFace === undefined ? null : amount('axis-face', o.axisFace) - 1,
    flip: Boolean(o.flip),
    turn: amount('turn', o.turn),
    scale: amount('scale', o.scale),
  },
  stl: {
    ...PLAIN_WISHES.stl,
    ...(o.unit ? { unit: oneOf('unit', o.unit, ['mm', 'inch']) } : {}),
    flip: Boolean(o.flip),
    ...(o.tolerance ? { tolerance: amount('tolerance', o.tolerance) } : {}),
  },
  dxf: {
    ...PLAIN_WISHES.dxf,
    ...(o.unit ? { unit: oneOf('unit', o.unit, ['mm', 'inch']) } : {}),
    ...(o.layers ? { layers: o.layers.split(',') } : {}),
    ...(o.gap ? { gap: amount('gap', o.gap) } : {}),
  },
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
    print(Boolean(o.json), value, () => [
      `outer: ${value.outer.length} elements`,
      `inner: ${value.inner.length} elements`,
      ...(value.back.length > 0 ? [`bore from the back: ${value.back.length} elements`] : []),
      ...features.map((f) => `${f.access.padEnd(7)} ${f.words}${f.proposed ? ' (fits; not assumed)' : ''}`),
      ...value.problems.map((p) => `${p.severity}: ${p.message}`),
    ]);
    if (value.outer.length === 0) process.exitCode = EXIT_BAD_INPUT;
    else if (brought.problems.some((p) => p.severity === 'blocking')) process.exitCode = EXIT_BLOCKED;
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
  .command('schema')
  .description('Print the JSON Schema of the job file')
  .action(() => {
    process.stdout.write(`${JSON.stringify(jobJsonSchema(), null, 2)}\n`);
  });

try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof InputError) {
    const json = process.argv.includes('--json');
    process.stderr.write(`${error.message}\n`);
    if (json) process.stdout.write(`${JSON.stringify({ error: error.message })}\n`);
    process.exitCode = EXIT_BAD_INPUT;
  } else if (error instanceof Error && 'exitCode' in error)
    process.exitCode = (error as { exitCode: number }).exitCode === 0 ? 0 : EXIT_BAD_INPUT;
  else throw error;
}
