import { z } from 'zod';

/** Largest request body that is read: a job document is far smaller. */
export const BODY_LIMIT = 8 * 1024 * 1024;

export const problem = (status: number, message: string, more: Record<string, unknown> = {}): Response =>
  Response.json({ message, ...more }, { status, headers: { 'cache-control': 'no-store' } });

/** An answer that no cache keeps: what it says is true now. */
export const answer = (value: unknown, status = 200): Response =>
  Response.json(value, { status, headers: { 'cache-control': 'no-store' } });

export type Read<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly response: Response };

/** Reads a body without ever holding more than the limit. */
export const readBytes = async (request: Request, limit: number): Promise<Read<Buffer>> => {
  const tooLarge = () => ({
    ok: false as const,
    response: problem(413, `The upload is larger than ${limit / 1048576} MB. Bring in a single job file or part.`),
  });
  if (Number(request.headers.get('content-length') ?? 0) > limit) return tooLarge();
  const reader = request.body?.getReader();
  if (!reader) return { ok: false, response: problem(400, 'The request is empty. Load the page again.') };
  const chunks: Uint8Array[] = [];
  let size = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) break;
    size += value.byteLength;
    if (size > limit) {
      await reader.cancel();
      return tooLarge();
    }
    chunks.push(value);
  }
  return { ok: true, value: Buffer.concat(chunks) };
};

/** Reads a JSON body of a job's size. */
export const readBody = async (request: Request): Promise<Read<unknown>> => {
  const body = await readBytes(request, BODY_LIMIT);
  if (!body.ok) return body;
  try {
    return { ok: true, value: JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body.value)) };
  } catch {
    return {
      ok: false,
      response: problem(400, 'The file is not readable JSON; it may be cut short. Load an unbroken copy.'),
    };
  }
};

const Uuid = z.uuid();
const HASH = /^[0-9a-f]{64}$/;
/** A SHA-256 as it is written in addresses and documents. */
export const isHash = (text: string): boolean => HASH.test(text);
export const isUuid = (text: string): boolean => Uuid.safeParse(text).success;
