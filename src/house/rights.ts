import { z } from 'zod';

/** What a person may do in the shop. Whoever may anything may view. */
export const RIGHTS = ['view', 'program', 'release', 'administer'] as const;
export type Right = (typeof RIGHTS)[number];

export const RIGHT_WORDS: Record<Right, string> = {
  view: 'sees jobs, programs and their history',
  program: 'makes, changes and deletes jobs',
  release: 'releases revisions and names them',
  administer: 'people, rights, the audit list',
};

/** A name as a person types it: no control characters, no half characters, not blank. */
export const PersonName = z
  .string()
  .trim()
  .min(1, 'Type a name.')
  .max(80, 'A name has at most 80 characters.')
  .refine((v) => !/[\p{Cc}\p{Cs}\p{Co}]/u.test(v), 'A name has letters, figures and signs only.');

export const PASSWORD_LEAST = 12;
export const PASSWORD_MOST = 128;

/** A new password; long is what makes it good, so no kinds of characters are asked for. */
export const NewPassword = z
  .string()
  .min(PASSWORD_LEAST, `A password has at least ${PASSWORD_LEAST} characters; a few words are easy to keep.`)
  .max(PASSWORD_MOST, `A password has at most ${PASSWORD_MOST} characters.`);

const COMMON =
  /^(?:password|passwort|letmein|welcome|qwerty|qwertz|abc|iloveyou|admin|administrator|livelyspindle|spindle|0*123456789|1234567890|(.)\1)+[\d!. _-]*$/i;

/** Why a password would be guessed first, or null. */
export const weakness = (password: string, name: string): string | null => {
  const bare = password.toLowerCase().replace(/[\s_.-]/g, '');
  if (COMMON.test(bare) || new Set(bare).size < 5) return 'This password is one of the first that are tried.';
  const words = name
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w.length > 2);
  if (words.length > 0 && words.reduce((rest, w) => rest.split(w).join(''), bare).length < 6)
    return 'This password is little more than the name.';
  return null;
};

export const PreferencesSchema = z.object({
  units: z.enum(['job', 'mm', 'inch']).default('job'),
  across: z.enum(['diameter', 'radius']).default('diameter'),
  ground: z.enum(['light', 'dark']).default('light'),
});
export type Preferences = z.infer<typeof PreferencesSchema>;
export const USUAL: Preferences = { units: 'job', across: 'diameter', ground: 'light' };

/** The person whose session asks. */
export interface Person {
  readonly id: string;
  readonly name: string;
  readonly rights: readonly Right[];
  readonly preferences: Preferences;
}

export const may = (person: Pick<Person, 'rights'>, right: Right): boolean => person.rights.includes(right);
