import { randomBytes } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { ADDRESS_HEADER } from './door';

/** Names by which browsers may call this server; anything else is a page that was led here by a foreign name. */
const HOSTS = new Set(
  (process.env.LIVELY_HOSTS ?? `127.0.0.1:${process.env.PORT},localhost:${process.env.PORT}`).split(','),
);
const TLS = process.env.LIVELY_TLS === '1';
const BEHIND_PROXY = process.env.LIVELY_PROXY === '1';

/** Headers that our own server or its framework sets for itself: from outside they are lies. */
const OURS = [
  ADDRESS_HEADER,
  'x-nonce',
  'content-security-policy',
  'x-forwarded-host',
  'x-forwarded-port',
  'x-forwarded-proto',
  'x-middleware-subrequest',
  'x-middleware-rewrite',
  'x-middleware-next',
  'x-invoke-path',
  'x-invoke-query',
  'x-invoke-output',
  'x-matched-path',
];

/** What pages may load and do: scripts of ours with this answer's own number, nothing from elsewhere, no frames. */
const policyOf = (nonce: string): string =>
  [
    "default-src 'self'",
    // the solid kernel is compiled code; browsers that know strict-dynamic take only what our own scripts load
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self' blob:",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ');

/**
 * What our own worker scripts may do; no page is served from there. The solid kernel's bindings are made from text when it
 * is loaded, in its worker, which sees neither page nor cookie.
 */
const WORKERS =
  "default-src 'none'; script-src 'self' 'unsafe-eval' 'wasm-unsafe-eval'; connect-src 'self'; worker-src 'self'; font-src 'self'";

const refuse = (request: IncomingMessage, response: ServerResponse, status: number, message: string): false => {
  // what comes along is let run out: a line that is cut while it is sent would lose the answer
  request.resume();
  response.writeHead(status, { 'content-type': 'application/json', 'cache-control': 'no-store' });
  response.end(JSON.stringify({ message }));
  return false;
};

/** An address that can be read: no broken percent signs, no NUL, not longer than any of ours. */
const readable = (url: string): boolean => {
  if (url.length > 4096) return false;
  try {
    const [path, query = ''] = url.split('?', 2);
    return !decodeURIComponent(path).includes('\0') && decodeURIComponent(query.replace(/\+/g, ' ')) !== null;
  } catch {
    return false;
  }
};

const addressOf = (request: IncomingMessage): string => {
  const near = request.socket.remoteAddress ?? '';
  if (!BEHIND_PROXY) return near;
  // the last name in the list is what our own proxy saw
  const seen = String(request.headers['x-forwarded-for'] ?? '')
    .split(',')
    .at(-1)
    ?.trim();
  return seen || near;
};

const METHODS = new Set(['GET', 'HEAD', 'POST', 'PUT', 'DELETE']);

/** Lets a request in to the pages, with what every answer carries; false when it has been answered here. */
export const admit = (request: IncomingMessage, response: ServerResponse): boolean => {
  response.setHeader('x-content-type-options', 'nosniff');
  response.setHeader('x-frame-options', 'DENY');
  response.setHeader('referrer-policy', 'same-origin');
  response.setHeader('cross-origin-opener-policy', 'same-origin');
  response.setHeader('cross-origin-resource-policy', 'same-origin');
  response.setHeader('permissions-policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=()');
  if (TLS) response.setHeader('strict-transport-security', 'max-age=31536000');
  const address = addressOf(request);
  for (const name of OURS) delete request.headers[name];
  if (!HOSTS.has(String(request.headers.host ?? '').toLowerCase()))
    return refuse(
      request,
      response,
      421,
      'This server does not go by that name. Open the address that bin/start printed.',
    );
  if (!METHODS.has(request.method ?? ''))
    return refuse(request, response, 405, 'This is not a way to ask this server.');
  if (!readable(request.url ?? ''))
    return refuse(request, response, 400, 'The address cannot be read. Open it from the list of jobs.');
  request.headers[ADDRESS_HEADER] = address;
  request.headers['x-forwarded-for'] = address;
  if (request.url?.startsWith('/_next/static/')) {
    response.setHeader('content-security-policy', WORKERS);
    return true;
  }
  const nonce = randomBytes(16).toString('base64');
  const policy = policyOf(nonce);
  // the pages read their number from here
  request.headers['content-security-policy'] = policy;
  request.headers['x-nonce'] = nonce;
  response.setHeader('content-security-policy', policy);
  return true;
};
