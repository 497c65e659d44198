import type { z } from 'zod';
import { insertAudit } from '../db/audit';
import { may, type Person, RIGHT_WORDS, type Right } from '../house/rights';
import { problem, type Read, readBody } from './http';
import { RATES, rates } from './rates';
import { personOf } from './signIn';
import { findBadText, wordsOfBadText } from './text';

/** The session's cookie. Browsers do not tell ports apart: its name does, for two shops of one machine. Over TLS it is bound to this very address. */
export const COOKIE = `${process.env.LIVELY_TLS === '1' ? '__Host-' : ''}lively-session-${process.env.PORT ?? ''}`;

/** Set by our own front on every request, never taken from outside. */
export const ADDRESS_HEADER = 'x-lively-address';

export interface Asked<P> {
  readonly request: Request;
  readonly params: P;
  readonly address: string;
  readonly agent: string;
  readonly url: URL;
}
export interface AskedBy<P> extends Asked<P> {
  readonly person: Person;
  /** The session's own token. */
  readonly token: string;
}

interface Context<P> {
  readonly params: Promise<P>;
}

export const tokenOf = (cookies: string | null): string => {
  for (const part of (cookies ?? '').split(';')) {
    const [name, value] = part.trim().split('=');
    if (name === COOKIE && value) return value;
  }
  return '';
};

/** What a session's cookie says to the browser. */
export const cookieOf = (token: string, seconds: number): string =>
  `${COOKIE}=${token}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${seconds}${process.env.LIVELY_TLS === '1' ? '; Secure' : ''}`;

const SIGN_IN = 'Your session has ended. Sign in again; what you changed is kept in this window.';

/** SQLSTATEs of text that the database cannot keep, and of rules that a document breaks. */
const UNKEEPABLE = new Set(['22021', '22P05', '22P02']);
const BROKEN_RULE = /^23/;
const BUSY = new Set(['55P03', '57014', '25P03']);

/** An answer for what went wrong, without anything internal. */
const told = (error: unknown): Response => {
  const code = (error as { code?: string }).code ?? '';
  if (UNKEEPABLE.has(code))
    return problem(422, 'A text has characters that cannot be kept. Delete them and type them again.');
  if (BROKEN_RULE.test(code)) {
    console.error(error);
    return problem(
      409,
      'The database keeps a rule that this change breaks. Load the page again and repeat the change.',
    );
  }
  if (BUSY.has(code)) {
    const busy = problem(503, 'Another change of this job is being written just now. It is tried again in a moment.');
    busy.headers.set('retry-after', '2');
    return busy;
  }
  console.error(error);
  const away = problem(
    503,
    'The database cannot be reached just now. Your changes are kept in this window and will be saved when it is back.',
  );
  away.headers.set('retry-after', '3');
  return away;
};

const tooMany = (seconds: number): Response => {
  const r = problem(429, `Too many requests. Wait ${seconds} s.`);
  r.headers.set('retry-after', String(seconds));
  return r;
};

/** A write must come from our own page: from its origin, and of a kind that no foreign page can send unasked. */
const foreign = (request: Request, bytes: boolean): Response | null => {
  if (request.method === 'GET' || request.method === 'HEAD') return null;
  const origin = request.headers.get('origin');
  const site = request.headers.get('sec-fetch-site');
  if ((site && site !== 'same-origin') || (origin && !isOurs(origin, request.headers.get('host'))))
    return problem(403, 'This request comes from another page. Open Lively Spindle itself and repeat it there.');
  const type = (request.headers.get('content-type') ?? '').split(';')[0].trim().toLowerCase();
  const wanted = bytes ? 'application/octet-stream' : 'application/json';
  return type === wanted ? null : problem(415, `A change is sent as ${wanted}. Load the page again.`);
};

/** Our own origin: the name that was asked for, and encrypted where the shop is, but for whoever sits at the machine itself. */
export const isOurs = (origin: string, host: string | null, tls = process.env.LIVELY_TLS === '1'): boolean => {
  try {
    const { host: named, hostname, protocol } = new URL(origin);
    const near = hostname === '127.0.0.1' || hostname === 'localhost';
    return host !== null && named === host && (!tls || near || protocol === 'https:');
  } catch {
    return false;
  }
};

const askedOf = async <P>(request: Request, context: Context<P>): Promise<Asked<P>> => ({
  request,
  params: await context.params,
  address: request.headers.get(ADDRESS_HEADER) ?? '',
  agent: request.headers.get('user-agent') ?? '',
  url: new URL(request.url),
});

interface Ways {
  /** The body is a file. */
  readonly bytes?: boolean;
}

/** A route that anybody may ask. */
export const open =
  <P>(handler: (asked: Asked<P>) => Promise<Response>) =>
  async (request: Request, context: Context<P>): Promise<Response> => {
    try {
      const asked = await askedOf(request, context);
      const wait = rates().take(`stranger:${asked.address}`, RATES.stranger);
      return wait > 0 ? tooMany(wait) : (foreign(request, false) ?? (await handler(asked)));
    } catch (error) {
      return told(error);
    }
  };

/** A route for people of the shop with a right. */
export const route =
  <P>(right: Right, handler: (asked: AskedBy<P>) => Promise<Response>, { bytes = false }: Ways = {}) =>
  async (request: Request, context: Context<P>): Promise<Response> => {
    try {
      const asked = await askedOf(request, context);
      const token = tokenOf(request.headers.get('cookie'));
      const person = await personOf(token);
      if (!person) {
        const wait = rates().take(`stranger:${asked.address}`, RATES.stranger);
        return wait > 0 ? tooMany(wait) : problem(401, SIGN_IN);
      }
      const wait = rates().take(`person:${person.id}`, RATES.person);
      if (wait > 0) return tooMany(wait);
      const wrong = foreign(request, bytes);
      if (wrong) return wrong;
      if (!may(person, right)) {
        if (rates().take(`refusal:${person.id}`, RATES.refusal) === 0)
          await insertAudit({
            person: person.id,
            name: person.name,
            address: asked.address,
            action: 'right refused',
            subject: `${request.method} ${asked.url.pathname}`,
            detail: { right },
          });
        return problem(
          403,
          `${person.name} may not do this: it needs the right “${right}” (${RIGHT_WORDS[right]}). An administrator can give it.`,
        );
      }
      return await handler({ ...asked, person, token });
    } catch (error) {
      return told(error);
    }
  };

/** A JSON body of a form; what does not fit is told with its place. */
export const bodyOf = async <T>(
  request: Request,
  schema: z.ZodType<T>,
  { texts = true }: { /** Texts are looked through here, not by the handler. */ readonly texts?: boolean } = {},
): Promise<Read<T>> => {
  const body = await readBody(request);
  if (!body.ok) return body;
  const bad = texts ? findBadText(body.value) : null;
  if (bad)
    return {
      ok: false,
      response: problem(422, wordsOfBadText(bad), { problems: [{ path: bad.path, message: bad.what }] }),
    };
  const parsed = schema.safeParse(body.value);
  if (parsed.success) return { ok: true, value: parsed.data };
  const issue = parsed.error.issues[0];
  const place = issue?.path.join('.') || 'the whole';
  return { ok: false, response: problem(400, `The request is not readable at ${place}: ${issue?.message}`) };
};
