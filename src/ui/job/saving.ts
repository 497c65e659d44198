'use client';
import { toast } from 'sonner';
import { create } from 'zustand';
import type { Job } from '@/core/plan';
import { ask, askToSignIn } from '../house/ask';
import { whoIsHere } from '../house/person';
import { newId } from '../kit/ids';
import { useDocument } from './document';
import { dropKept, dropRecord, type KeptRecord, keptWritten, leftBehind, putKept } from './kept';
import { type Conflict, type EditAnswer, type EditRequest, type Refusal, Saver, type Saving } from './saver';

export type { Saving } from './saver';

interface Body {
  readonly version?: number;
  readonly document?: Job;
  readonly updatedBy?: string;
  readonly problems?: readonly Refusal[];
}

/** Sends an edit and reads the answer; what has no answer is lost. */
const sendEdit = async (id: string, request: EditRequest): Promise<EditAnswer> => {
  const answer = await ask<Body>('POST', `/api/jobs/${id}/edits`, request);
  if (answer.ok)
    return answer.body.version
      ? { kind: 'taken', version: answer.body.version }
      : { kind: 'lost', reason: 'an answer that cannot be read' };
  const body = answer.body as Body;
  switch (answer.status) {
    case 401:
      return { kind: 'signed-out' };
    case 409:
      if (!body.document) break;
      return {
        kind: 'conflict',
        version: body.version ?? request.base,
        theirs: body.document,
        updatedBy: body.updatedBy ?? 'somebody',
      };
    case 0:
      return { kind: 'lost', reason: `${answer.message}; kept here and tried again` };
    case 429:
      return { kind: 'lost', reason: 'too many requests; tried again in a moment' };
    default:
      if (answer.status >= 500) return { kind: 'lost', reason: answer.message };
  }
  return { kind: 'refused', reason: answer.message, problems: body.problems ?? [] };
};

interface SavingState {
  readonly saving: Saving;
  readonly conflict: Conflict | null;
  /** False while nothing is heard from the server: what others change is not seen. */
  readonly linked: boolean;
  /** Begins with a job as the server has it at a version; what was left unsaved of it comes back. */
  open: (id: string, job: Job, version: number) => void;
  touch: (job: Job, label: string) => void;
  /** Saves the present version as a job of its own, whose id it gives, and goes on with theirs. */
  keepBoth: () => Promise<string | null>;
  /** Saves the present document as a new job, also when this one is gone or cannot be saved. */
  saveAsNew: () => Promise<string | null>;
  /** Saves the present document as a new job and goes there: this one is gone, or will not have it. */
  leaveAsNew: () => Promise<void>;
  takeTheirs: () => void;
  putMineOnTop: () => void;
}

let saver: Saver | null = null;
let openId = '';

/** Savers of jobs that were left before all was saved: they go on. */
const leaving = new Map<string, Saver>();

const titleOf = (job: Job): string => `${job.header.number} ${job.header.name}`.trim();

const saverOf = (
  id: string,
  job: Job,
  version: number,
  changed: (s: { saving: Saving; conflict: Conflict | null }) => void,
) => {
  let title = titleOf(job);
  const made: Saver = new Saver(job, version, {
    send: (request) => sendEdit(id, request),
    later: (ms, call) => {
      const timer = setTimeout(call, ms);
      return () => clearTimeout(timer);
    },
    newId,
    now: () => Date.now(),
    changed: (state) => {
      if (state.saving.kind === 'signed-out') askToSignIn(() => made.hurry());
      if (state.saving.kind === 'saved') leaving.delete(id);
      changed(state);
    },
    keep: (unsaved) => {
      if (!unsaved) return dropKept(id);
      if (openId === id && useDocument.getState().id === id) title = titleOf(useDocument.getState().job);
      const { id: person, name } = whoIsHere();
      putKept({ ...unsaved, job: id, title, person, name, at: Date.now() });
    },
  });
  return made;
};

const clock = (at: number): string =>
  new Date(at).toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' });

/** Goes on with changes that were left: from the version that they count from, so that nothing of others is overwritten. */
const bringBack = async (id: string, record: KeptRecord, version: number, set: (s: Partial<SavingState>) => void) => {
  const base =
    record.base === version ? null : await ask<{ document: Job }>('GET', `/api/jobs/${id}/revisions/${record.base}`);
  if (openId !== id) return;
  if (base && !base.ok) {
    toast.error(
      `Changes of ${clock(record.at)} that were not saved are kept here, but cannot be brought back just now.`,
      {
        description: base.message,
        duration: 15_000,
      },
    );
    return;
  }
  saver?.close();
  const ground = base ? base.body.document : useDocument.getState().job;
  saver = saverOf(id, ground, record.base, (state) => openId === id && set(state));
  const present = saver.resume(record);
  if (!present) return;
  useDocument.getState().replace('changes that were not saved', present);
  await dropRecord(record);
  saver.touch(present, record.label);
  toast(`Changes of ${clock(record.at)} that had not been saved are back.`, {
    description: 'They are being saved now. Undo takes them away again.',
    duration: 12_000,
  });
};

export const useSaving = create<SavingState>((set, get) => ({
  saving: { kind: 'saved', at: 0 },
  conflict: null,
  linked: true,
  open: (id, job, version) => {
    if (saver?.unsaved && openId !== '') leaving.set(openId, saver);
    else saver?.close();
    // a saver that still runs for this job gives way: what it has not saved is kept, and comes back below
    leaving.get(id)?.close();
    leaving.delete(id);
    openId = id;
    saver = saverOf(id, job, version, (state) => openId === id && set(state));
    void leftBehind(id).then(([newest, ...others]) => {
      if (openId !== id || !newest) return;
      const mine = newest.person === whoIsHere().id;
      const back = (): void => void bringBack(id, newest, version, set);
      if (mine && others.length === 0) back();
      else
        toast(`${newest.name} changed this job at ${clock(newest.at)} in this browser, and it was not saved.`, {
          description: 'It is kept until you decide.',
          duration: 60_000,
          action: { label: 'Bring it back', onClick: back },
        });
    });
  },
  touch: (job, label) => saver?.touch(job, label),
  keepBoth: async () => {
    if (!get().conflict) return null;
    const id = await get().saveAsNew();
    get().takeTheirs();
    return id;
  },
  saveAsNew: async () => {
    const { job } = useDocument.getState();
    const mine: Job = { ...job, header: { ...job.header, name: `${job.header.name} (my version)`.slice(0, 200) } };
    const made = await ask<{ id: string }>('POST', '/api/jobs', { document: mine });
    if (!made.ok) throw new Error(made.message);
    return made.body.id;
  },
  leaveAsNew: async () => {
    const left = openId;
    const id = await get()
      .saveAsNew()
      .catch((e: Error) => {
        toast.error('It could not be saved as a new job.', { description: e.message, duration: 12_000 });
        return null;
      });
    if (!id) return;
    saver?.close();
    dropKept(left);
    await keptWritten();
    window.location.assign(`/jobs/${id}`);
  },
  takeTheirs: () => {
    const theirs = saver?.takeTheirs();
    // my version stays one undo away
    if (theirs) useDocument.getState().replace('take the other version', theirs);
  },
  putMineOnTop: () => {
    const theirs = saver?.putMineOnTop();
    // theirs stays one undo away, and in the history
    if (theirs) useDocument.getState().cover('put mine on top', theirs);
  },
}));

/** True while something is not yet safe on the server. */
export const hasUnsaved = (): boolean => saver?.unsaved ?? false;

/** Where saving stands, for what hears of other versions. */
export const savingStand = (): { readonly version: number; readonly edit: string | null } | null =>
  saver?.stand ?? null;

/** Takes a version that somebody else has made, when nothing here is unsaved; true when it is now the document. */
export const followVersion = (job: Job, version: number): boolean => saver?.follow(job, version) ?? false;

/** Tries at once what waits. */
export const hurrySaving = (): void => {
  saver?.hurry();
  for (const s of leaving.values()) s.hurry();
};
