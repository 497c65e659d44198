import { insertAudit } from '../db/audit';
import { insertPerson, lockAdministrators, lockPerson, putPassword, updatePerson } from '../db/people';
import { transaction } from '../db/pool';
import { endSessions } from '../db/sessions';
import { type Person, RIGHTS, type Right, weakness } from '../house/rights';
import { hashPassword } from './passwords';

export interface PersonChange {
  readonly name: string;
  readonly rights: readonly Right[];
  readonly active: boolean;
  /** A new password, or null to leave it. */
  readonly password: string | null;
}

export type PeopleOutcome =
  | { readonly kind: 'done'; readonly id: string }
  | { readonly kind: 'refused'; readonly status: 403 | 404 | 409 | 422; readonly message: string };

const refused = (status: 403 | 404 | 409 | 422, message: string): PeopleOutcome => ({
  kind: 'refused',
  status,
  message,
});

const NAME_TAKEN = 'Somebody of this name is here already. Add a letter, a second name or a department.';
const isTaken = (error: unknown): boolean =>
  (error as { code?: string; constraint?: string }).code === '23505' &&
  (error as { constraint?: string }).constraint === 'people_name';

const ordered = (rights: readonly Right[]): Right[] => RIGHTS.filter((r) => r === 'view' || rights.includes(r));

/** Adds a person to the shop. */
export const addPerson = async (
  by: Person,
  address: string,
  p: { name: string; rights: readonly Right[]; password: string },
): Promise<PeopleOutcome> => {
  const weak = weakness(p.password, p.name);
  if (weak) return refused(422, weak);
  const password = await hashPassword(p.password);
  try {
    return await transaction(async (client): Promise<PeopleOutcome> => {
      // the right is looked up in the transaction: it may have been taken away since the page was opened
      if (!(await lockAdministrators(client)).some((a) => a.id === by.id))
        return refused(403, 'You are no longer an administrator. Another one has changed your rights.');
      const rights = ordered(p.rights);
      const id = await insertPerson(client, { name: p.name, rights, password });
      await insertAudit(
        { person: by.id, name: by.name, address, action: 'person made', subject: p.name, detail: { rights } },
        client,
      );
      return { kind: 'done', id };
    });
  } catch (error) {
    if (isTaken(error)) return refused(409, NAME_TAKEN);
    throw error;
  }
};

/**
 * Changes a person: name, rights, whether they may come in, password. The shop never stands without an administrator, also
 * when two of them remove each other at the same moment: one of the two then is none any more, and is told so.
 */
export const changePerson = async (
  by: Person,
  address: string,
  id: string,
  c: PersonChange,
): Promise<PeopleOutcome> => {
  const weak = c.password === null ? null : weakness(c.password, c.name);
  if (weak) return refused(422, weak);
  const password = c.password === null ? null : await hashPassword(c.password);
  try {
    return await transaction(async (client): Promise<PeopleOutcome> => {
      const administrators = await lockAdministrators(client);
      if (!administrators.some((a) => a.id === by.id))
        return refused(403, 'You are no longer an administrator. Another one has changed your rights.');
      const before = await lockPerson(client, id);
      if (!before) return refused(404, 'This person is not here any more. Load the page again.');
      const rights = ordered(c.rights);
      const stays = c.active && rights.includes('administer');
      if (!stays && administrators.length === 1 && administrators[0].id === id)
        return refused(
          409,
          `${before.name} is the only administrator. Make somebody else one first; otherwise nobody could let people in.`,
        );
      await updatePerson(client, id, { name: c.name, rights, active: c.active });
      if (password) await putPassword(client, id, password);
      if (password || !c.active) await endSessions(client, id, null);
      await insertAudit(
        {
          person: by.id,
          name: by.name,
          address,
          action: !c.active && before.active ? 'person removed' : 'person changed',
          subject: c.name,
          detail: {
            ...(before.name === c.name ? {} : { name: [before.name, c.name] }),
            ...(before.rights.join() === rights.join() ? {} : { rights: [before.rights, rights] }),
            ...(before.active === c.active ? {} : { active: [before.active, c.active] }),
            ...(password ? { password: 'set anew' } : {}),
          },
        },
        client,
      );
      return { kind: 'done', id };
    });
  } catch (error) {
    if (isTaken(error)) return refused(409, NAME_TAKEN);
    throw error;
  }
};
