'use client';
import { toast } from 'sonner';
import { create } from 'zustand';
import { differencesInWords, type Job } from '@/core/plan';
import type { News } from '@/house/edits';
import { ask } from '../house/ask';
import { useDocument } from './document';
import { thisTab } from './kept';
import { followVersion, hurrySaving, savingStand, useSaving } from './saving';

interface PresentState {
  readonly people: readonly { readonly tab: string; readonly name: string }[];
}
/** Who has the job open that is shown. */
export const usePresent = create<PresentState>(() => ({ people: [] }));

/** ms without a connection before it is said. */
const PATIENCE = 4000;

/** Hears what happens to a job while it is shown, and follows what others make of it. The result ends it. */
export const watchJob = (id: string): (() => void) => {
  let source: EventSource | null = null;
  let ended = false;
  let down: ReturnType<typeof setTimeout> | null = null;
  let again: ReturnType<typeof setTimeout> | null = null;

  const linked = (up: boolean): void => {
    if (up) {
      if (down) clearTimeout(down);
      down = null;
      if (!useSaving.getState().linked) hurrySaving();
      useSaving.setState({ linked: true });
    } else down ??= setTimeout(() => useSaving.setState({ linked: false }), PATIENCE);
  };

  let fetching = false;
  const follow = async (version: number, by: string): Promise<void> => {
    const stand = savingStand();
    if (fetching || !stand || version <= stand.version) return;
    fetching = true;
    const got = await ask<{ version: number; document: Job }>('GET', `/api/jobs/${id}`);
    fetching = false;
    if (ended || !got.ok || useDocument.getState().id !== id) return;
    const before = useDocument.getState().job;
    // not what is known already; with something unsaved here, the saving itself finds the conflict
    if (!followVersion(got.body.document, got.body.version)) return;
    useDocument.getState().follow(got.body.document);
    const [first, ...more] = differencesInWords(before, got.body.document);
    if (first)
      toast(`${by} has changed this job.`, {
        id: 'followed',
        description: `${first.about}: ${first.words}${more.length > 0 ? `, and ${more.length} more` : ''}`,
      });
  };

  const hear = (news: News): void => {
    switch (news.kind) {
      case 'version': {
        // one's own edit is acknowledged by its own answer
        const own = news.edit !== null && news.edit === savingStand()?.edit;
        if (!own) void follow(news.version, news.by);
        return;
      }
      case 'present':
        usePresent.setState({ people: news.people });
        return;
      case 'deleted':
        toast.error(`${news.by} has deleted this job.`, {
          id: 'deleted',
          duration: Number.POSITIVE_INFINITY,
          description: 'It is shown here as it was. What you change now is not saved unless it comes back.',
          action: {
            label: 'Bring it back',
            onClick: () => void ask('POST', `/api/jobs/${id}/restore`).then((r) => r.ok && hurrySaving()),
          },
        });
        return;
      default:
        news satisfies never;
    }
  };

  const open = (): void => {
    if (ended) return;
    source = new EventSource(`/api/jobs/${id}/events?tab=${thisTab()}`);
    source.onopen = () => linked(true);
    source.onmessage = (m) => {
      linked(true);
      hear(JSON.parse(m.data as string) as News);
    };
    source.onerror = () => {
      linked(false);
      // the browser tries again by itself unless it was refused
      if (source?.readyState !== EventSource.CLOSED) return;
      // a session that has ended has the sign-in shown by this
      void ask('GET', '/api/me');
      again = setTimeout(open, 3000);
    };
  };
  open();
  const online = (): void => hurrySaving();
  // a page that comes back from the browser's own memory is as old as it was left
  const shown = (e: PageTransitionEvent): void => {
    if (e.persisted) window.location.reload();
  };
  window.addEventListener('online', online);
  window.addEventListener('pageshow', shown);
  return () => {
    ended = true;
    source?.close();
    if (down) clearTimeout(down);
    if (again) clearTimeout(again);
    window.removeEventListener('online', online);
    window.removeEventListener('pageshow', shown);
    usePresent.setState({ people: [] });
    useSaving.setState({ linked: true });
  };
};
