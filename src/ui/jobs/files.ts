'use client';
import { toast } from 'sonner';
import type { PartDocument } from '@/core/part';
import { type Job, readJobText } from '@/core/plan';
import type { Brought } from '@/solid/bringFile';
import { kindOfFile, FILE_LIMIT as PART_LIMIT, tooLarge as partTooLarge } from '@/solid/wishes';
import { shownName } from '../kit/fileNames';
import { sha256 } from '../kit/ids';
import { bringAnywhere } from '../part/bring';
import { sourceOf } from '../part/store';
import { EndedError, endSolids } from '../part/worker';

/** Largest file that is read in the browser. */
export const FILE_LIMIT = 20 * 1024 * 1024;

const complain = (title: string, description: string): null => {
  toast.error(title, { description, duration: 15_000 });
  return null;
};

const tooLarge = (file: File): boolean => file.size > FILE_LIMIT;

/** A part read from a file, with what keeps it tied to that file. */
export interface PartFile {
  readonly part: PartDocument;
  readonly hash: string;
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly brought: Brought;
}

/** Number and name of a part by its file: “LM-212 valve body.step” is LM-212, “valve body”; no number where none leads. */
export const namesOfFile = (file: string): { readonly number: string | null; readonly name: string } => {
  const stem = file.replace(/\.\w+$/, '').trim();
  const led = /^([A-Za-z]{1,6}[-_ ]?\d{2,}(?:[-_.][A-Za-z0-9]{1,4})*)(?:[-_ ]+(.*))?$/.exec(stem);
  return led ? { number: led[1], name: (led[2] ?? '').replace(/[_]+/g, ' ').trim() } : { number: null, name: stem };
};

/** Part of a dropped solid, mesh or drawing, read with the usual choices; what is wrong with it is told, with place and remedy. */
export const importPartFile = async (file: File): Promise<PartFile | null> => {
  const name = shownName(file.name);
  const kind = kindOfFile(file.name);
  if (!kind)
    return complain(
      `“${name}” is no solid, mesh or drawing.`,
      'Save the part as STEP (.step, .stp), STL or DXF and drop it again.',
    );
  if (file.size > PART_LIMIT) return complain(`“${name}” is too large.`, partTooLarge(kind, file.size).message);
  const bytes = new Uint8Array(await file.arrayBuffer());
  let wanted = true;
  const stop = (): void => {
    wanted = false;
    endSolids();
  };
  const waiting = toast.loading(`Reading “${name}” …`, { cancel: { label: 'Stop', onClick: stop } });
  try {
    const brought = await bringAnywhere({ name, kind, bytes, wishes: {} }, undefined, () => wanted);
    if (!brought) return null;
    if (!brought.part)
      return complain(`“${name}” gives no turning profile.`, brought.problems.map((p) => p.message).join(' '));
    const remarks = brought.problems.filter((p) => p.severity !== 'info');
    if (remarks.length > 0)
      toast.warning(`“${name}” is read, with ${remarks.length} remark${remarks.length > 1 ? 's' : ''}.`, {
        description: remarks
          .slice(0, 3)
          .map((p) => p.message)
          .join(' '),
        duration: 15_000,
      });
    const hash = sha256(bytes);
    return {
      part: { ...brought.part, source: sourceOf({ name, kind, hash }, brought.axis, {}) },
      hash,
      name,
      bytes,
      brought,
    };
  } catch (error) {
    return complain(
      `“${name}” could not be read.`,
      error instanceof EndedError
        ? error.message
        : `Neither this browser nor the server could (${error instanceof Error ? error.message.slice(0, 200) : 'unknown reason'}). Export the part again as AP214 and try once more.`,
    );
  } finally {
    toast.dismiss(waiting);
  }
};

/** Job of a dropped job file, or null after telling why not. */
export const readJobFile = async (file: File): Promise<Job | null> => {
  const name = shownName(file.name);
  if (tooLarge(file))
    return complain(
      `“${name}” has ${(file.size / 1048576).toFixed(0)} MB.`,
      'A job file is far smaller. Choose a file that ends in .spindle.json.',
    );
  const read = readJobText(await file.text());
  if (!read.ok)
    return complain(
      `“${name}” cannot be loaded.`,
      read.problems
        .slice(0, 3)
        .map((p) => p.message)
        .join(' '),
    );
  return read.job;
};

/** Brings in a job from an archive that was exported here; null after telling why not. */
export const postArchive = async (file: File): Promise<string | null> => {
  const name = shownName(file.name);
  const response = await fetch('/api/archives', {
    method: 'POST',
    headers: { 'content-type': 'application/octet-stream' },
    body: file,
  }).catch(() => null);
  const body = (await response?.json().catch(() => ({}))) as { id?: string; message?: string } | undefined;
  if (response?.ok && body?.id) return body.id;
  return complain(`“${name}” cannot be brought in.`, body?.message ?? 'No connection to the server.');
};
