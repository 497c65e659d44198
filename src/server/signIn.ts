import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { insertAudit } from '../db/audit';
import { countPeople, credentialsOf, insertPerson, passwordOf, putPassword } from '../db/people';
import { transaction } from '../db/pool';
import {
  deleteSession,
  endSessions,
  findSession,
  forgetRefusals,
  insertSession,
  noteRefusal,
  noteSeen,
  refusalsOf,
} from '../db/sessions';
import { findShop } from '../db/shop';
import type { Action } from '../house/actions';
import { type Person, PreferencesSchema, RIGHTS, USUAL, weakness } from '../house/rights';
import { compareWithNobody, hashPassword, passwordMatches } from './passwords';

export const hashOf = (text: string): Buffer => createHash('sha256').update(text).digest();

/** Where a request comes from. */
export interface From {
  readonly address: string;
  readonly agent: string;
}

export type SignedIn =
  | { readonly kind: 'in'; readonly token: string; readonly person: string; readonly name: string }
  | { readonly kind: 'wrong' }
  /** Too many wrong passwords: how long to wait, in seconds. */
  | { readonly kind: 'wait'; readonly seconds: number };

/** Wrong passwords that are free; after them every one doubles the wait. */
const FREE = { name: 5, address: 40 } as const;

const waitFor = async (key: string, free: number): Promise<number> => {
  const { count, seconds } = await refusalsOf(key);
  if (count < free) return 0;
  return Math.max(0, Math.ceil(Math.min(600, 5 * 2 ** (count - free)) - seconds));
};

/** A new session for a person, told to the audit list in the same transaction. */
const enter = async (id: string, name: string, from: From, action: Action): Promise<string> => {
  const token = randomBytes(32).toString('base64url');
  await transaction(async (client) => {
    await insertSession(client, { token: hashOf(token), person: id, ...from });
    await insertAudit({ person: id, name, address: from.address, action }, client);
  });
  return token;
};

export const signIn = async (name: string, password: string, from: From): Promise<SignedIn> => {
  const keys = [
    [`name:${name.trim().toLowerCase().slice(0, 80)}`, FREE.name],
    [`address:${from.address}`, FREE.address],
  ] as const;
  const wait = Math.max(...(await Promise.all(keys.map(([key, free]) => waitFor(key, free)))));
  if (wait > 0) return { kind: 'wait', seconds: wait };
  const found = await credentialsOf(name.trim());
  const right = found
    ? (await passwordMatches(password, found.password)) && found.active
    : await compareWithNobody(password);
  if (!found || !right) {
    await Promise.all(keys.map(([key]) => noteRefusal(key)));
    await insertAudit({
      person: found?.id ?? null,
      name: found?.name ?? name.trim().slice(0, 80),
      address: from.address,
      action: 'sign-in refused',
    });
    return { kind: 'wrong' };
  }
  await forgetRefusals(keys[0][0]);
  return {
    kind: 'in',
    token: await enter(found.id, found.name, from, 'signed in'),
    person: found.id,
    name: found.name,
  };
};

export const signOut = async (token: string, person: Person, address: string): Promise<void> => {
  await deleteSession(hashOf(token));
  await insertAudit({ person: person.id, name: person.name, address, action: 'signed out' });
};

/** The person of a session's token, or null when it has ended. */
export const personOf = async (token: string): Promise<Person | null> => {
  if (!/^[\w-]{43}$/.test(token)) return null;
  const key = hashOf(token);
  const row = await findSession(key);
  if (!row) return null;
  if (row.stale) void noteSeen(key).catch((e: unknown) => console.error(e));
  const preferences = PreferencesSchema.safeParse(row.preferences);
  return {
    id: row.id,
    name: row.name,
    rights: row.rights,
    preferences: preferences.success ? preferences.data : USUAL,
  };
};

export type Named = { readonly kind: 'in'; readonly token: string } | { readonly kind: 'no'; readonly message: string };

/** Names the first administrator of a shop that has nobody yet, by the code that bin/start printed. */
export const nameFirst = async (code: string, name: string, password: string, from: From): Promise<Named> => {
  const key = `address:${from.address}`;
  const wait = await waitFor(key, FREE.address);
  if (wait > 0) return { kind: 'no', message: `Too many wrong codes. Try again in ${wait} s.` };
  const weak = weakness(password, name);
  if (weak) return { kind: 'no', message: weak };
  const { firstCode } = await findShop();
  if (!firstCode || !timingSafeEqual(hashOf(code.trim()), firstCode)) {
    await noteRefusal(key);
    return {
      kind: 'no',
      message: firstCode
        ? 'This is not the code that bin/start printed. Look at its last lines, or start it again for a new one.'
        : 'This shop has its people already. Sign in, or ask an administrator.',
    };
  }
  const hash = await hashPassword(password);
  const id = await transaction(async (client) => {
    // of two who come at once with the code, one is first
    const { rowCount } = await client.query('update shop set first_code = null where first_code = $1::bytea', [
      firstCode,
    ]);
    if (!rowCount) return null;
    const made = await insertPerson(client, { name, password: hash, rights: RIGHTS });
    await insertAudit(
      { person: made, name, address: from.address, action: 'person made', subject: name, detail: { rights: RIGHTS } },
      client,
    );
    return made;
  });
  if (!id) return { kind: 'no', message: 'Somebody else has named the first administrator just now. Sign in instead.' };
  return { kind: 'in', token: await enter(id, name, from, 'signed in') };
};

/** Whether the shop has nobody yet. */
export const isUnpeopled = async (): Promise<boolean> => (await countPeople()) === 0;

/** A person's own new password; every other session of theirs ends. */
export const changePassword = async (
  person: Person,
  token: string,
  old: string,
  next: string,
  from: From,
): Promise<string | null> => {
  const key = `name:${person.name.toLowerCase()}`;
  const wait = await waitFor(key, FREE.name);
  if (wait > 0) return `Too many wrong passwords. Try again in ${wait} s.`;
  const kept = await passwordOf(person.id);
  if (!kept || !(await passwordMatches(old, kept))) {
    await noteRefusal(key);
    return 'The present password is not right.';
  }
  const weak = weakness(next, person.name) ?? (old === next ? 'The new password is the old one.' : null);
  if (weak) return weak;
  const hash = await hashPassword(next);
  await transaction(async (client) => {
    await putPassword(client, person.id, hash);
    await endSessions(client, person.id, hashOf(token));
    await insertAudit(
      { person: person.id, name: person.name, address: from.address, action: 'password changed' },
      client,
    );
  });
  return null;
};
