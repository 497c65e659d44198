import { bringArchive } from '@/server/archive';
import { route } from '@/server/door';
import { answer, problem, readBytes } from '@/server/http';
import { byOf } from '@/server/jobs';

const MOST = 40 * 1024 * 1024;

/** Brings a job in from an archive, with its files. */
export const POST = route(
  'program',
  async ({ request, person, address }) => {
    const body = await readBytes(request, MOST);
    if (!body.ok) return body.response;
    const done = await bringArchive(body.value, byOf(person, address));
    return done.ok ? answer(done.job, 201) : problem(422, done.message);
  },
  { bytes: true },
);
