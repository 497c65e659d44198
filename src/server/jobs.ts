import { randomUUID } from 'node:crypto';
import type { PoolClient } from 'pg';
import { applyDiff, diffDocuments, isEmptyDiff, type Job, readJob } from '../core/plan';
import { insertAudit } from '../db/audit';
import { advanceJob, findJob, insertJob, type JobSummary, markDeleted, putLabels } from '../db/jobs';
import { transaction } from '../db/pool';
import { queueSummary } from '../db/queue';
import { askRelease } from '../db/releases';
import { insertRevision, nameRevision, versionOfEdit } from '../db/revisions';
import type { Action } from '../house/actions';
import type { Edit } from '../house/edits';
import type { Person } from '../house/rights';
import { documentAt } from './history';
import { isUuid } from './http';
import { tell } from './news';
import { firstSummary, plainSummary } from './summary';
import { cutText, findBadText, wordsOfBadText } from './text';
import { Crowded, Turns } from './turns';

/** A whole document is kept with every so many edits. */
const SNAPSHOT_EVERY = 25;

/** Who does something, and from where. */
export interface By {
  readonly person: Pick<Person, 'id' | 'name'> | null;
  readonly name: string;
  readonly address: string;
}
export const byOf = (person: Pick<Person, 'id' | 'name'>, address: string): By => ({
  person,
  name: person.name,
  address,
});

export interface Refusal {
  /** Where in the document, as a JSON pointer; empty when the whole is meant. */
  readonly path: string;
  readonly message: string;
}

export type EditOutcome =
  | { readonly kind: 'saved'; readonly version: number }
  | { readonly kind: 'conflict'; readonly version: number; readonly document: Job; readonly updatedBy: string }
  | { readonly kind: 'missing' }
  | { readonly kind: 'invalid'; readonly message: string; readonly problems: readonly Refusal[] };

const holder = globalThis as unknown as { livelyTurns?: Turns };
const turns = (): Turns => (holder.livelyTurns ??= new Turns());

const invalid = (message: string, problems: readonly Refusal[] = []): EditOutcome => ({
  kind: 'invalid',
  message,
  problems,
});

/**
 * Takes an edit made on version `base`. The same edit sent again (its answer was lost) counts once. An edit made on an
 * older version is not taken: the sender gets the present document and keeps its own.
 */
export const saveEdit = async (id: string, edit: Edit, by: By): Promise<EditOutcome> => {
  if (!isUuid(id)) return { kind: 'missing' };
  const bad = findBadText(edit.diff);
  // a key of the diff is itself a place in the document
  const place = bad ? (/^\/(?:added|removed|updated)\/([^/]*)/.exec(bad.path)?.[1] ?? '') : '';
  if (bad) {
    const path = place.replace(/~1/g, '/').replace(/~0/g, '~');
    return invalid(wordsOfBadText({ ...bad, path }), [{ path, message: bad.what }]);
  }
  return turns().take(id, () => takeEdit(id, edit, by));
};

/** Documents as they were last saved or read here: a version of a job never changes. */
const MOST_KEPT = 40;
const kept = new Map<string, { readonly version: number; readonly job: Job }>();
const keep = (id: string, version: number, job: Job): void => {
  kept.delete(id);
  kept.set(id, { version, job });
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value as string);
};

type Ground =
  | { readonly kind: 'ground'; readonly job: Job /** It was brought up to a newer form. */; readonly reformed: boolean }
  | { readonly kind: 'not'; readonly outcome: EditOutcome };

/** The document that an edit was made on; or what comes of the edit when the job does not stand there. */
const groundOf = async (id: string, edit: Edit): Promise<Ground> => {
  const known = kept.get(id);
  if (known?.version === edit.base) return { kind: 'ground', job: known.job, reformed: false };
  const row = await findJob(id);
  if (!row) return { kind: 'not', outcome: { kind: 'missing' } };
  // what is edited is the document as it is read today, the same that the page holds
  const present = readJob(row.document);
  if (!present.ok) return { kind: 'not', outcome: invalid(present.problems.map((p) => p.message).join(' ')) };
  if (row.version !== edit.base) {
    const before = await versionOfEdit(id, edit.edit);
    const { version, updatedBy } = row;
    return {
      kind: 'not',
      outcome:
        before === null
          ? { kind: 'conflict', version, document: present.job, updatedBy }
          : { kind: 'saved', version: before },
    };
  }
  const reformed = (row.document as { version?: unknown }).version !== present.job.version;
  if (!reformed) keep(id, row.version, present.job);
  return { kind: 'ground', job: present.job, reformed };
};

const takeEdit = async (id: string, edit: Edit, by: By): Promise<EditOutcome> => {
  // twice at most: what was known here may be older than what another server has made of it
  for (let attempt = 1; ; attempt++) {
    const ground = await groundOf(id, edit);
    if (ground.kind === 'not') return ground.outcome;
    let changed: unknown;
    try {
      changed = applyDiff<unknown>(ground.job, edit.diff);
    } catch (error) {
      return invalid(error instanceof Error ? error.message : 'The change does not fit the document.');
    }
    const read = readJob(changed);
    if (!read.ok)
      return invalid(
        read.problems.map((p) => p.message).join(' '),
        read.problems.map((p) => ({ path: pointerOf(p.place), message: p.message })),
      );
    const version = edit.base + 1;
    const taken = await advanceJob({
      id,
      base: edit.base,
      edit: edit.edit,
      diff: edit.diff,
      document: read.job,
      // a document brought up to a newer form is kept whole: diffs count from one form only
      whole: ground.reformed || version % SNAPSHOT_EVERY === 0,
      summary: plainSummary(read.job),
      author: by.name,
      person: by.person?.id ?? null,
      label: cutText(edit.label.replaceAll('\u0000', '').toWellFormed(), 200),
    });
    if (taken) {
      keep(id, version, read.job);
      return { kind: 'saved', version };
    }
    kept.delete(id);
    if (attempt === 2) throw new Crowded(`job ${id} moves on under its edit`);
  }
};

/** A place as readJob names it (`holdings.h1.stock`) as a JSON pointer. */
const pointerOf = (path: string): string =>
  path === ''
    ? ''
    : `/${path
        .split('.')
        .map((k) => k.replace(/~/g, '~0').replace(/\//g, '~1'))
        .join('/')}`;

/** A new job with its first revision; its summary is given, or follows. */
export const createJob = async (
  job: Job,
  by: By,
  id: string = randomUUID(),
  summary: JobSummary | null = null,
): Promise<{ id: string; version: number }> => {
  await transaction(async (client) => {
    await insertJob(client, id, job, summary ?? firstSummary(job), by.name);
    await insertRevision(client, {
      job: id,
      version: 1,
      edit: randomUUID(),
      diff: { added: {}, updated: {}, removed: {} },
      snapshot: job,
      author: by.name,
      person: by.person?.id ?? null,
      label: 'made',
    });
    await audit(client, by, 'job made', `${job.header.number} ${job.header.name}`, id);
    if (!summary) await queueSummary(client, id);
  });
  return { id, version: 1 };
};

const audit = (
  client: PoolClient,
  by: By,
  action: Action,
  subject: string,
  job: string,
  detail: Record<string, unknown> = {},
): Promise<void> =>
  insertAudit(
    { person: by.person?.id ?? null, name: by.name, address: by.address, action, subject, job, detail },
    client,
  );

/** Puts a job away or brings it back; false when it is not there. */
export const putAway = async (id: string, away: boolean, by: By): Promise<boolean> => {
  if (!isUuid(id)) return false;
  return transaction(async (client) => {
    const found = await markDeleted(client, id, away);
    if (!found) return false;
    await audit(client, by, away ? 'job deleted' : 'job brought back', `${found.number} ${found.name}`, id);
    if (away) await tell(id, { kind: 'deleted', by: by.name }, client);
    return true;
  });
};

export const setLabels = async (id: string, labels: readonly string[], by: By): Promise<boolean> =>
  transaction(async (client) => {
    if (!(await putLabels(client, id, labels))) return false;
    await audit(client, by, 'labels set', labels.join(', '), id);
    return true;
  });

/** Goes back to a revision as a new edit on version `base`. */
export const goBack = async (
  id: string,
  version: number,
  base: number,
  edit: string,
  by: By,
): Promise<EditOutcome | { readonly kind: 'unreadable'; readonly message: string }> => {
  const [old, present] = await Promise.all([documentAt(id, version), loadJob(id)]);
  if (!present) return { kind: 'missing' };
  if ('unreadable' in present) return { kind: 'unreadable', message: present.unreadable };
  if (!old.ok) return { kind: 'unreadable', message: old.message };
  const diff = diffDocuments(present.document, old.job);
  if (isEmptyDiff(diff)) return { kind: 'saved', version: present.version };
  if (present.version !== base)
    return { kind: 'conflict', version: present.version, document: present.document, updatedBy: present.updatedBy };
  return saveEdit(id, { edit, base, label: `back to revision ${version}`, diff }, by);
};

/** Names a revision or takes its name away; or has it posted and proved for its release. */
export const callRevision = async (
  id: string,
  version: number,
  name: string | null,
  release: boolean,
  by: By,
): Promise<boolean> =>
  transaction(async (client) => {
    if (!(await nameRevision(client, id, version, name, by.name))) return false;
    const action = name === null ? 'revision’s name taken away' : 'revision named';
    const subject = `revision ${version}${name ? `: ${name}` : ''}`;
    if (!release) await audit(client, by, action, subject, id, { version });
    else if (
      await askRelease(client, id, version, { person: by.person?.id ?? null, name: by.name, address: by.address })
    )
      await audit(client, by, 'release asked for', subject, id, { version });
    return true;
  });

export interface OpenedJob {
  readonly id: string;
  readonly version: number;
  readonly document: Job;
  readonly updatedAt: string;
  readonly updatedBy: string;
}

/** A job brought up to the present version of its document; or why it cannot be read, which loses nothing. */
export const loadJob = async (id: string): Promise<OpenedJob | { readonly unreadable: string } | null> => {
  const row = isUuid(id) ? await findJob(id) : null;
  if (!row) return null;
  const read = readJob(row.document);
  if (!read.ok) return { unreadable: read.problems.map((p) => p.message).join(' ') };
  return { ...row, document: read.job };
};
