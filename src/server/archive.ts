import { createHash } from 'node:crypto';
import { strFromU8, strToU8, type Unzipped, unzip, zip } from 'fflate';
import { readJobText } from '../core/plan';
import { findFile, putFile } from '../db/files';
import { listRevisions } from '../db/revisions';
import { type By, createJob, loadJob } from './jobs';
import { fileNameOf, findBadText, wordsOfBadText } from './text';

const JOB = 'job.spindle.json';
const HISTORY = 'history.json';

/** Hashes of files that a document names anywhere. */
const filesIn = (document: unknown): string[] => [
  ...new Set(JSON.stringify(document).match(/(?<=")[0-9a-f]{64}(?=")/g) ?? []),
];

const safe = (text: string): string => text.replace(/[^\w.-]+/g, '-').replace(/^-+|-+$/g, '') || 'job';

/** A job with its history's list and its files, as one ZIP archive. */
export const archiveOf = async (id: string): Promise<{ name: string; bytes: Uint8Array } | null> => {
  const opened = await loadJob(id);
  if (!opened || 'unreadable' in opened) return null;
  const revisions = [];
  for (let below: number | null = null; ; ) {
    const page = await listRevisions(id, below, false);
    revisions.push(...page.rows);
    if (page.next === null) break;
    below = page.next;
  }
  const entries: Record<string, Uint8Array> = {
    [JOB]: strToU8(`${JSON.stringify(opened.document, null, 1)}\n`),
    [HISTORY]: strToU8(`${JSON.stringify({ job: id, version: opened.version, revisions }, null, 1)}\n`),
  };
  for (const hash of filesIn(opened.document)) {
    const file = await findFile(hash);
    if (file) entries[`files/${hash}/${encodeURIComponent(file.name || 'part')}`] = file.bytes;
  }
  const bytes = await new Promise<Uint8Array>((done, failed) =>
    zip(entries, { level: 6 }, (error, data) => (error ? failed(error) : done(data))),
  );
  const { number, name } = opened.document.header;
  return { name: `${safe(`${number}-${name}`)}.zip`, bytes };
};

/** Bytes that an archive may hold unpacked. */
const MOST_UNPACKED = 200 * 1024 * 1024;

const unpacked = (bytes: Uint8Array): Promise<Unzipped> => {
  let size = 0;
  return new Promise((done, failed) =>
    unzip(
      bytes,
      {
        filter: (f) => {
          size += f.originalSize;
          return size <= MOST_UNPACKED && (f.name === JOB || /^files\/[0-9a-f]{64}\/[^/]+$/.test(f.name));
        },
      },
      (error, data) => (error ? failed(error) : done(data)),
    ),
  );
};

export type Brought =
  | { readonly ok: true; readonly job: { readonly id: string; readonly version: number } }
  | { readonly ok: false; readonly message: string };

/** A new job from an archive; what is torn or no archive of a job is refused with the reason. */
export const bringArchive = async (bytes: Uint8Array, by: By): Promise<Brought> => {
  let entries: Unzipped;
  try {
    entries = await unpacked(bytes);
  } catch {
    return { ok: false, message: 'The archive cannot be unpacked; it may be cut short. Export it once more.' };
  }
  const text = entries[JOB];
  if (!text) return { ok: false, message: `The archive holds no ${JOB}: it was not exported from a job here.` };
  const read = readJobText(strFromU8(text));
  if (!read.ok) return { ok: false, message: read.problems.map((p) => p.message).join(' ') };
  const bad = findBadText(read.job);
  if (bad) return { ok: false, message: wordsOfBadText(bad) };
  for (const [path, content] of Object.entries(entries)) {
    const [, hash, name] = path.split('/');
    if (!hash) continue;
    if (createHash('sha256').update(content).digest('hex') !== hash)
      return { ok: false, message: `The file ${name} in the archive is not what it was: it is damaged.` };
    await putFile(hash, fileNameOf(name) ?? 'part', Buffer.from(content), by.person?.id ?? null);
  }
  return { ok: true, job: await createJob(read.job, by) };
};
