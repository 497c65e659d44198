'use client';
import { toast } from 'sonner';
import type { PartDocument } from '@/core/part';
import { type Job, readJobText } from '@/core/plan';
import { core } from '../job/core';

/** Largest file that is read in the browser. */
export const FILE_LIMIT = 20 * 1024 * 1024;

const complain = (title: string, description: string): null => {
  toast.error(title, { description, duration: 15_000 });
  return null;
};

/** A file name as text that is safe to show and store. */
export const shownName = (name: string): string => {
  const clean = [...name]
    .filter((c) => c >= ' ' && c !== '\u007f')
    .join('')
    .slice(0, 80);
  return clean === '' ? 'the file' : clean;
};

const tooLarge = (file: File): boolean => file.size > FILE_LIMIT;

/** Part of a dropped drawing; what is wrong with it is told, with place and remedy. */
export const importDrawingFile = async (file: File): Promise<PartDocument | null> => {
  const name = shownName(file.name);
  if (tooLarge(file))
    return complain(`“${name}” has ${(file.size / 1048576).toFixed(0)} MB.`, `Drawings up to ${FILE_LIMIT / 1048576} MB are read. Save only the contour's layer and drop that.`);
  if (!/\.dxf$/i.test(file.name)) return complain(`“${name}” is not a DXF drawing.`, 'Save the contour as .dxf and drop it again.');
  const { drawing, part } = await core().importDrawing(await file.text());
  if (!part) return complain(`“${name}” holds no usable contour.`, drawing.problems.map((p) => p.message).join(' '));
  if (drawing.problems.length > 0)
    toast.warning(`“${name}” is read, with ${drawing.problems.length} remark${drawing.problems.length > 1 ? 's' : ''}.`, {
      description: drawing.problems
        .slice(0, 3)
        .map((p) => p.message)
        .join(' '),
      duration: 15_000,
    });
  return part;
};

/** Job of a dropped job file, or null after telling why not. */
export const readJobFile = async (file: File): Promise<Job | null> => {
  const name = shownName(file.name);
  if (tooLarge(file)) return complain(`“${name}” has ${(file.size / 1048576).toFixed(0)} MB.`, 'A job file is far smaller. Choose a file that ends in .spindle.json.');
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
