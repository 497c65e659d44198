import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import http from 'node:http';
import { expect, test } from '@playwright/test';
import { givenTime } from '../fixtures/given';
import { seeded } from '../fixtures/random';
import { copyJob, stateOf } from './helpers';

const REQUESTS = Number(process.env.FUZZ_REQUESTS ?? 5000);
const SEED = Number(process.env.FUZZ_SEED ?? 1 + Math.floor(Math.random() * 1e6));
/** ms beyond which an answer counts as a hang. */
const HANG = 2000;

const ROUTES = [
  '/',
  '/sign-in',
  '/first',
  '/me',
  '/people',
  '/audit',
  '/jobs/:id',
  '/jobs/:id/history',
  '/api/health',
  '/api/session',
  '/api/first',
  '/api/me',
  '/api/me/password',
  '/api/people',
  '/api/people/:id',
  '/api/audit',
  '/api/labels',
  '/api/library',
  '/api/jobs',
  '/api/jobs/:id',
  '/api/jobs/:id/restore',
  '/api/jobs/:id/edits',
  '/api/jobs/:id/labels',
  '/api/jobs/:id/archive',
  '/api/jobs/:id/revisions',
  '/api/jobs/:id/revisions/:n',
  '/api/jobs/:id/revisions/:n/section',
  '/api/jobs/:id/revisions/:n/name',
  '/api/jobs/:id/revisions/:n/back',
  '/api/archives',
  '/api/files/:hash',
  '/api/imports',
  '/api/jobs/:id/order',
  '/api/asked/:hash',
  '/nothing/here',
];

interface Sent {
  readonly method: string;
  readonly path: string;
  readonly headers: Record<string, string>;
  readonly body: string | Buffer | null;
}

/** One request as it stands, without what a careful client would mend. */
const send = (base: URL, r: Sent): Promise<{ status: number; ms: number; text: string }> =>
  new Promise((done) => {
    const given = givenTime();
    const answered = (status: number, text: string): void => done({ status, ms: given(), text });
    const request = http.request(
      { host: base.hostname, port: base.port, method: r.method, path: r.path, headers: r.headers, timeout: 20_000 },
      (response) => {
        let text = '';
        response.on('data', (d: Buffer) => {
          if (text.length < 500) text += d.toString('utf8');
        });
        response.on('end', () => answered(response.statusCode ?? 0, text));
        response.on('error', () => answered(0, text));
      },
    );
    request.on('timeout', () => request.destroy());
    request.on('error', () => answered(0, ''));
    if (r.body !== null) request.write(r.body);
    request.end();
  });

test(`@alone no request breaks the server: ${REQUESTS}`, async ({ page, baseURL }) => {
  test.setTimeout(15 * 60_000);
  const base = new URL(baseURL ?? '');
  const id = await copyJob(page, 'LM-155', 'Fuzzed');
  const random = seeded(SEED);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const sessions = ['Ottilie Marsh', 'Bram Fenwick', 'Isa Dole', 'Wren Tolliver'].map((name) => {
    const { cookies } = JSON.parse(readFileSync(stateOf(name), 'utf8')) as {
      cookies: { name: string; value: string }[];
    };
    return cookies.map((c) => `${c.name}=${c.value}`).join('; ');
  });
  const strange = (): unknown =>
    pick<() => unknown>([
      () => null,
      () => true,
      () => -1,
      () => 1e308,
      () => 0.1,
      () => '',
      () => 'x'.repeat(Math.floor(random() * 3000)),
      () => '\u0000',
      () => '\ud83d',
      () => "'; drop table jobs; --",
      () => '<img src=x onerror=alert(1)>',
      () => '%ff',
      () => '../../etc/passwd',
      () => randomUUID(),
      () => [],
      () => [1, [2, [3]]],
      () => ({}),
      () => ({ __proto__: 1, constructor: { prototype: 1 } }),
      () => Array.from({ length: 300 }, (_, i) => i),
    ])();
  const word = (): string =>
    encodeURIComponent(String(pick(['', 'x', '%', '\u0001', 'LM-155', '-1', '1e9', '🔩', "'"])));
  const bodies = (): unknown =>
    pick<() => unknown>([
      () => strange(),
      () => ({
        edit: randomUUID(),
        base: 1,
        label: 'f',
        diff: { added: {}, updated: { '/header/note': ['', strange()] }, removed: {} },
      }),
      () => ({ edit: randomUUID(), base: strange(), label: strange(), diff: strange() }),
      () => ({
        edit: randomUUID(),
        base: 1,
        label: '',
        diff: { added: { [String(strange())]: strange() }, updated: {}, removed: { '/operations': strange() } },
      }),
      () => ({ document: strange() }),
      () => ({
        document: { format: 'lively-spindle-job', version: pick([1, 2, 3, 4, 5, strange()]), header: strange() },
      }),
      () => ({ name: strange(), password: strange(), rights: strange(), active: strange() }),
      () => ({ labels: [strange(), strange()] }),
      () => ({
        hash: pick(['a'.repeat(64), strange()]),
        kind: pick(['step', 'dxf', strange()]),
        wishes: pick([{}, strange()]),
      }),
      () => ({ name: pick(['a name', strange()]), released: pick([true, false, strange()]) }),
      () => ({ base: pick([1, strange()]), edit: pick([randomUUID(), strange()]) }),
      () => ({ code: strange(), old: strange(), next: strange() }),
    ])();
  const made = (): Sent => {
    const hash = pick(['a'.repeat(64), 'zz', '%00', word()]);
    const path = pick(ROUTES)
      .replace(':id', () => pick([id, id, randomUUID(), 'x', '%ff', '%00', '..%2f', word()]))
      .replace(':n', () => pick(['1', '0', '-1', '99999999999', '1.5', word()]))
      .replace(':hash', () => hash);
    const query =
      random() < 0.4
        ? `?${pick(['words', 'after', 'limit', 'below', 'to', 'person', 'from', 'before', 'phase', 'named'])}=${word()}`
        : '';
    // signing out would end the session that the next ones use
    const methods =
      path === '/api/session'
        ? ['GET', 'POST', 'PUT']
        : ['GET', 'GET', 'POST', 'POST', 'POST', 'PUT', 'PUT', 'DELETE', 'PATCH', 'HEAD', 'OPTIONS', 'BREW'];
    const method = path === `/api/jobs/${id}` ? pick(['GET', 'PUT', 'HEAD']) : pick(methods);
    const headers: Record<string, string> = { host: random() < 0.02 ? 'evil.example' : base.host };
    if (random() < 0.85) headers.cookie = pick(sessions);
    if (random() < 0.1) headers.cookie = `lively-session-${base.port}=${pick(['', 'x'.repeat(43), '%ff', 'a; b=c'])}`;
    if (random() < 0.1) headers.origin = pick(['http://evil.example', 'null', base.origin, '%']);
    if (random() < 0.1) headers['x-file-name'] = pick(['%ff', '%00', 'a.step', encodeURIComponent('🔩'.repeat(200))]);
    if (random() < 0.05)
      headers[
        pick(['x-nonce', 'x-lively-address', 'x-middleware-subrequest', 'next-action', 'rsc', 'x-forwarded-for'])
      ] = pick(['1', 'x'.repeat(200), '127.0.0.1']);
    const carries = method !== 'GET' && method !== 'HEAD' && random() < 0.95;
    if (!carries) return { method, path: `${path}${query}`, headers, body: null };
    headers['content-type'] = pick([
      'application/json',
      'application/json',
      'application/json',
      'application/octet-stream',
      'text/plain',
      'multipart/form-data',
      '',
    ]);
    let body: string | Buffer = JSON.stringify(bodies()) ?? 'null';
    if (random() < 0.1) body = body.slice(0, body.length >> 1);
    if (random() < 0.05) body = Buffer.from([0xff, 0xfe, 0x00, 0x7b, 0x22]);
    if (random() < 0.02) body = `{"document":${'['.repeat(20_000)}`;
    return { method, path: `${path}${query}`, headers, body };
  };
  const failures: string[] = [];
  const seen = new Map<number, number>();
  let left = REQUESTS;
  const one = async (): Promise<void> => {
    while (left-- > 0) {
      const r = made();
      const a = await send(base, r);
      seen.set(a.status, (seen.get(a.status) ?? 0) + 1);
      // 0: the parser itself turned the request away and closed the line
      const wrong =
        a.status >= 500 || a.ms > HANG || /at \w+ \(|node_modules|\/src\//.test(a.status >= 400 ? a.text : '');
      if (wrong)
        failures.push(
          `${a.status} ${a.ms.toFixed(0)} ms ${r.method} ${r.path} ${String(r.body).slice(0, 200)} → ${a.text.slice(0, 200)}`,
        );
    }
  };
  // what a page takes the first time it is loaded at all is no hang
  for (const path of ['/', '/people', '/audit', '/me', '/first', '/sign-in', `/jobs/${id}`, `/jobs/${id}/history`])
    await page.request.get(path);
  await Promise.all(Array.from({ length: 6 }, one));
  console.log(
    `answers: ${[...seen]
      .sort(([a], [b]) => a - b)
      .map(([s, n]) => `${n} × ${s}`)
      .join(', ')}`,
  );
  expect(failures.slice(0, 20), `seed ${SEED}`).toEqual([]);
  // and the job is there as it was, or edited by what was well formed
  expect((await page.request.get(`/api/jobs/${id}`)).status()).toBe(200);
  expect(await (await page.request.get('/api/health')).json()).toEqual({ ready: true });
});
