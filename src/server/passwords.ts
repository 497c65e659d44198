import { randomBytes, scrypt as scryptOf, timingSafeEqual } from 'node:crypto';
import { promisify } from 'node:util';

const scrypt = promisify(scryptOf) as (
  password: string,
  salt: Buffer,
  length: number,
  options: { N: number; r: number; p: number; maxmem: number },
) => Promise<Buffer>;

/** Cost of a hash: 32 MB and some 100 ms of one core (OWASP: N = 2^15, r = 8, p = 3 or more memory). */
const COST = { N: 2 ** 15, r: 8, p: 3 } as const;
const LENGTH = 32;
const memory = (c: { N: number; r: number }): number => 256 * c.N * c.r;

/** At most so many at once: each wants its memory, and sign-ins must not starve the rest of the server. */
const AT_ONCE = 3;
let running = 0;
const waiting: (() => void)[] = [];
const inTurn = async <T>(work: () => Promise<T>): Promise<T> => {
  if (running >= AT_ONCE) await new Promise<void>((go) => waiting.push(go));
  running++;
  try {
    return await work();
  } finally {
    running--;
    waiting.shift()?.();
  }
};

const normal = (password: string): string => password.normalize('NFKC');

/** `scrypt$N$r$p$salt$hash`, so that a later cost can be told from an earlier one. */
export const hashPassword = async (password: string): Promise<string> => {
  const salt = randomBytes(16);
  const hash = await inTurn(() => scrypt(normal(password), salt, LENGTH, { ...COST, maxmem: memory(COST) }));
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64'), hash.toString('base64')].join('$');
};

/** Whether a password is the one that was hashed; a hash of another form never is. */
export const passwordMatches = async (password: string, kept: string): Promise<boolean> => {
  const [kind, n, r, p, salt, hash] = kept.split('$');
  if (kind !== 'scrypt' || !hash) return false;
  const cost = { N: Number(n), r: Number(r), p: Number(p) };
  const expected = Buffer.from(hash, 'base64');
  const found = await inTurn(() =>
    scrypt(normal(password), Buffer.from(salt, 'base64'), expected.length, { ...cost, maxmem: memory(cost) }),
  );
  return timingSafeEqual(found, expected);
};

let nobody: Promise<string> | null = null;

/** Takes as long as a real comparison, so that a name that is not there cannot be told by the clock. */
export const compareWithNobody = async (password: string): Promise<false> => {
  nobody ??= hashPassword(randomBytes(18).toString('base64'));
  await passwordMatches(password, await nobody);
  return false;
};
