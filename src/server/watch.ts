import { versionOf } from '../db/jobs';
import { GONE_AFTER, leave, notePresence, presentAt } from '../db/presence';
import type { News } from '../house/edits';
import type { Person } from '../house/rights';
import { hear, tell } from './news';

/** ms between signs of life: to the tab, and of the tab in the database. */
const BEAT = (GONE_AFTER * 1000) / 3;

/** What is told about a job to one tab, as server-sent events, from where it stands now. */
export const watch = (
  job: string,
  tab: string,
  person: Pick<Person, 'id' | 'name'>,
  signal: AbortSignal,
): ReadableStream<Uint8Array> => {
  const encoder = new TextEncoder();
  let end = (): void => undefined;
  return new ReadableStream({
    start: (controller) => {
      let ended = false;
      const send = (text: string): void => {
        if (ended) return;
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          end();
        }
      };
      const say = (news: News): void => send(`data: ${JSON.stringify(news)}\n\n`);
      const version = async (): Promise<void> => {
        const now = await versionOf(job);
        if (now) say({ kind: 'version', version: now.version, by: now.updatedBy, edit: null });
        else say({ kind: 'deleted', by: 'somebody' });
      };
      const present = async (): Promise<void> =>
        say({ kind: 'present', people: (await presentAt(job)).map(({ tab, name }) => ({ tab, name })) });
      const careful = (work: Promise<unknown>): void => void work.catch((e: Error) => console.error(e.message));
      const deaf = hear(job, (news) => {
        if (news.kind === 'look') careful(version().then(present));
        else if (news.kind === 'present') careful(present());
        else say(news);
      });
      const others = (): Promise<void> => tell(job, { kind: 'present', people: [] });
      const timer = setInterval(() => {
        send(': here\n\n');
        // what came while the database was away, or was told on a connection that broke, is seen here at the latest
        careful(notePresence(tab, job, person.id).then(version));
      }, BEAT);
      end = () => {
        if (ended) return;
        ended = true;
        clearInterval(timer);
        deaf();
        careful(leave(tab).then(others));
        try {
          controller.close();
        } catch {
          // closed by the other side
        }
      };
      signal.addEventListener('abort', () => end());
      send('retry: 1500\n\n');
      careful(version().then(() => notePresence(tab, job, person.id).then(others)));
    },
    cancel: () => end(),
  });
};
