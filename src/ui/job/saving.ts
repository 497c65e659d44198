'use client';
import { create } from 'zustand';
import type { Job } from '@/core/plan';
import { newId } from '../kit/ids';
import { useDocument } from './document';
import { type Conflict, type EditAnswer, type EditRequest, Saver, type Saving } from './saver';

export type { Saving } from './saver';

const author = (): string =>
  typeof window === 'undefined' ? '' : (window.localStorage.getItem('lively.author') ?? 'Ottilie Marsh');

interface Body {
  readonly version?: number;
  readonly document?: Job;
  readonly updatedBy?: string;
  readonly message?: string;
}

const post = async (url: string, body: unknown): Promise<{ readonly response: Response; readonly body: Body }> => {
  const response = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
  return { response, body: (await response.json().catch(() => ({}))) as Body };
};

/** Sends an edit and reads the answer; what has no answer is lost. */
const sendEdit = async (id: string, request: EditRequest): Promise<EditAnswer> => {
  let answer: Awaited<ReturnType<typeof post>>;
  try {
    answer = await post(`/api/jobs/${id}/edits`, { ...request, author: author() });
  } catch {
    return { kind: 'lost', reason: 'no connection; will be saved when it is back' };
  }
  const { response, body } = answer;
  if (response.ok && body.version) return { kind: 'taken', version: body.version };
  if (response.status === 409 && body.document)
    return {
      kind: 'conflict',
      version: body.version ?? request.base,
      theirs: body.document,
      updatedBy: body.updatedBy ?? 'somebody',
    };
  if (response.status >= 500 || response.ok)
    return { kind: 'lost', reason: body.message ?? 'The server cannot save just now.' };
  return { kind: 'refused', reason: body.message ?? 'The change was not taken.' };
};

interface SavingState {
  readonly saving: Saving;
  readonly conflict: Conflict | null;
  readonly author: string;
  open: (id: string, job: Job, version: number) => void;
  touch: (job: Job, label: string) => void;
  /** Saves the present version as a job of its own, whose id it gives, and goes on with theirs. */
  keepBoth: () => Promise<string | null>;
  takeTheirs: () => void;
  putMineOnTop: () => void;
}

let saver: Saver | null = null;

export const useSaving = create<SavingState>((set, get) => ({
  saving: { kind: 'saved', at: 0 },
  conflict: null,
  author: author(),
  open: (id, job, version) => {
    saver?.close();
    saver = new Saver(job, version, {
      send: (request) => sendEdit(id, request),
      later: (ms, call) => {
        const timer = setTimeout(call, ms);
        return () => clearTimeout(timer);
      },
      newId,
      now: () => Date.now(),
      changed: (state) => set(state),
    });
  },
  touch: (job, label) => saver?.touch(job, label),
  keepBoth: async () => {
    const { job } = useDocument.getState();
    if (!get().conflict) return null;
    const mine: Job = { ...job, header: { ...job.header, name: `${job.header.name} (my version)`.slice(0, 200) } };
    const { response, body } = await post('/api/jobs', { document: mine, author: get().author });
    const { id } = body as { id?: string };
    if (!response.ok || !id) throw new Error(body.message ?? 'Your version could not be saved as a new job.');
    get().takeTheirs();
    return id;
  },
  takeTheirs: () => {
    const theirs = saver?.takeTheirs();
    // my version stays one undo away
    if (theirs) useDocument.getState().replace('take the other version', theirs);
  },
  putMineOnTop: () => saver?.putMineOnTop(),
}));

/** True while something is not yet safe on the server. */
export const hasUnsaved = (): boolean => saver?.unsaved ?? false;
