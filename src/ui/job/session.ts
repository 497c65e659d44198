'use client';
import type { Job } from '@/core/plan';
import { onCoreLost } from './core';
import { useDerived } from './derived';
import { useDocument } from './document';
import { useSaving } from './saving';
import { FIRST, useSelection, within } from './selection';

/** A document that has changed is saved and derived; a view that has become shorter takes the time cursor along. */
const follow = (): void => {
  useDocument.subscribe((now, before) => {
    if (now.id !== before.id || now.job === before.job) return;
    useSaving.getState().touch(now.job, now.past.at(-1)?.label ?? 'undo');
    useDerived.getState().ask(now.job);
  });
  useDerived.subscribe((now, before) => {
    if (now.view && now.view !== before.view) useSelection.setState((s) => within(s, now.view?.total ?? s.time));
  });
  // a core that has died forgets all it had told
  onCoreLost(() => {
    const { job } = useDocument.getState();
    useDerived.getState().reset();
    const again = job !== diedOf;
    diedOf = job;
    useDerived.setState({
      failure: `The computation ended without an answer, most likely for lack of memory.${again ? ' It begins anew.' : ' Take back the last change.'}`,
    });
    if (job && again) useDerived.getState().ask(job);
  });
};
let following = false;
let diedOf: Job | null = null;

/** Shows a job of the server, in the phase that is asked for. */
export const openJob = (id: string, job: Job, version: number, phase: (typeof FIRST)['phase']): void => {
  if (!following) follow();
  following = true;
  useDerived.getState().reset();
  useSelection.setState({ ...FIRST, phase });
  useSaving.getState().open(id, job, version);
  useDocument.getState().open(id, job);
  useDerived.getState().ask(job);
};
