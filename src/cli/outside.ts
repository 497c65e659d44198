import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { codeFindings } from '../core/dialects';
import { wordFinding } from '../core/findings';
import { facesBack, type Machine, readMachine } from '../core/machine';
import { isMove, timeProgram } from '../core/motion';
import { lostWaits, type ReadProblem, readTexts, toolTables } from '../core/nc';
import type { Job } from '../core/plan';
import { InputError, readText } from './io';

/** A machine by its file, or by its id among the shop's. */
export const machineOf = (name: string): Machine => {
  const shop = fileURLToPath(new URL('../../demo/machines', import.meta.url));
  const files = readdirSync(shop).filter((f) => f.endsWith('.json'));
  const path = name.endsWith('.json') ? name : join(shop, `${name}.json`);
  if (!name.endsWith('.json') && !files.includes(`${name}.json`))
    throw new InputError(
      `There is no machine “${name}”. Choose one of ${files.map((f) => f.replace('.json', '')).join(', ')}, or name a machine file.`,
    );
  let value: unknown;
  try {
    value = JSON.parse(readText(path));
  } catch (error) {
    if (error instanceof InputError) throw error;
    throw new InputError(`${path}: this is not readable JSON. Load an unbroken machine file.`);
  }
  const read = readMachine(value);
  if (!read.ok) throw new InputError(read.problems.map((p) => `${path}, ${p.message}`).join('\n'));
  const wrong = codeFindings(read.machine).map(wordFinding);
  if (wrong.length > 0) throw new InputError(wrong.map((w) => `${path}, codes: ${w.message} ${w.remedy}`).join('\n'));
  return read.machine;
};

export interface OutsideProgram {
  readonly file: string;
  readonly text: string;
}

/**
 * The programs of a folder, one for each channel: by `-ch<ID>` in their names, or in the order of their names. Where the work
 * is held anew between several, by `-1-ch<ID>`, `-2-ch<ID>` … .
 */
export const programsIn = (dir: string, machine: Machine, runs = 1): OutsideProgram[] => {
  let names: string[];
  try {
    names = statSync(dir).isDirectory() ? readdirSync(dir).sort() : [];
  } catch {
    throw new InputError(`${dir}: there is no such folder. Check the path.`);
  }
  const texts = names.filter((f) => /\.(nc|txt|tap|min|prg|ncp|cnc)$/i.test(f));
  if (texts.length === 0)
    throw new InputError(`${dir}: there is no program in it. Put .nc files there, one for each channel.`);
  const places = Array.from({ length: runs }, (_, r) => machine.channels.map((c) => ({ c, r }))).flat();
  return places.map(({ c, r }, i) => {
    const ending = `${runs > 1 ? `-${r + 1}` : ''}-ch${c.id}`;
    const named = texts.find((f) => new RegExp(`${ending.replace(/[^\w-]/g, '.')}\\.`).test(f));
    const file = named ?? (texts.some((f) => /-ch[^.]+\./.test(f)) ? undefined : texts[i]);
    if (!file) throw new InputError(`${dir}: there is no program for channel ${c.id}. Name it NAME${ending}.nc.`);
    return { file, text: readFileSync(join(dir, file), 'utf8') };
  });
};

export interface OutsideReading {
  readonly channels: readonly {
    readonly id: string;
    readonly file: string;
    readonly moves: number;
    readonly total: number;
    readonly problems: readonly ReadProblem[];
  }[];
  readonly deadlock: boolean;
}

/** Interprets programs on a machine and times them; tools come from a job, or are sharp tips. */
export const readOutside = (machine: Machine, programs: readonly OutsideProgram[], job: Job | null): OutsideReading => {
  const tables = job ? toolTables(job) : null;
  // which zeros lie in a spindle that faces the main one only the job says
  const turnedZeros = new Set(
    Object.values(job?.holdings ?? {}).flatMap((h) => (facesBack(machine, h.spindle) ? [h.workOffset] : [])),
  );
  const sharp = new Map(Array.from({ length: 99 }, (_, i) => [i + 1, { noseRadius: 0, tip: { x: 0, y: 0 } }] as const));
  const reads = readTexts(
    programs.map((p) => p.text),
    machine,
    turnedZeros,
    (carrier) => tables?.get(carrier) ?? sharp,
  );
  if (!reads) throw new InputError(`The dialect “${machine.dialect}” of ${machine.name} is not known here.`);
  const timeline = timeProgram(
    { channels: reads.map((r, i) => ({ channel: machine.channels[i].id, events: r.events })) },
    machine,
  );
  const waits = lostWaits(reads, timeline);
  return {
    channels: reads.map((r, i) => ({
      id: machine.channels[i].id,
      file: programs[i].file,
      moves: r.events.filter(isMove).length,
      total: timeline.channels[i].total,
      problems: [...r.problems, ...waits[i]],
    })),
    deadlock: timeline.kind === 'deadlock',
  };
};
