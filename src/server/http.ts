/** Largest request body that is read: a job document is far smaller. */
export const BODY_LIMIT = 8 * 1024 * 1024;

export const problem = (status: number, message: string, more: Record<string, unknown> = {}): Response =>
  Response.json({ message, ...more }, { status });

export type Body = { readonly ok: true; readonly value: unknown } | { readonly ok: false; readonly response: Response };

/** Reads a body without ever holding more than the limit. */
export const readBytes = async (
  request: Request,
  limit: number,
): Promise<{ readonly ok: true; readonly value: Buffer } | { readonly ok: false; readonly response: Response }> => {
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
export const readBody = async (request: Request): Promise<Body> => {
  const body = await readBytes(request, BODY_LIMIT);
  if (!body.ok) return body;
  try {
    return { ok: true, value: JSON.parse(body.value.toString('utf8')) };
  } catch {
    return {
      ok: false,
      response: problem(400, 'The file is not readable JSON; it may be cut short. Load an unbroken copy.'),
    };
  }
};

/** Wraps a handler so that a lost database is told as such and nothing internal leaks. */
export const guarded =
  <A extends unknown[]>(handler: (...args: A) => Promise<Response>) =>
  async (...args: A): Promise<Response> => {
    try {
      return await handler(...args);
    } catch (error) {
      console.error(error);
      return problem(
        503,
        'The database cannot be reached just now. Your changes are kept in this window and will be saved when it is back.',
      );
    }
  };
