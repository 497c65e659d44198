'use client';
import { Dialog } from 'radix-ui';
import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import type { PersonRow } from '@/db/people';
import { RIGHT_WORDS, RIGHTS, type Right } from '@/house/rights';
import { Button, cx, FormProblem } from '../kit/controls';
import { ago } from '../kit/moments';
import { ask } from './ask';
import { HouseBar } from './HouseBar';
import { usePerson } from './person';

interface Draft {
  readonly id: string | null;
  readonly name: string;
  readonly rights: readonly Right[];
  readonly active: boolean;
  readonly password: string;
}

const draftOf = (p: PersonRow): Draft => ({ id: p.id, name: p.name, rights: p.rights, active: p.active, password: '' });
const NEW: Draft = { id: null, name: '', rights: ['view', 'program'], active: true, password: '' };

/** Who works here and what they may. */
export const People = ({ people: first, now }: { people: readonly PersonRow[]; now: number }) => {
  const me = usePerson();
  const [people, setPeople] = useState(first);
  const [draft, setDraft] = useState<Draft | null>(null);
  const load = async (): Promise<void> => {
    const got = await ask<{ people: PersonRow[] }>('GET', '/api/people');
    if (got.ok) setPeople(got.body.people);
    else toast.error(got.message);
  };
  const change = async (d: Draft, done: string): Promise<string | null> => {
    const body = { name: d.name, rights: d.rights, active: d.active, password: d.password === '' ? null : d.password };
    const answer =
      d.id === null ? await ask('POST', '/api/people', body) : await ask('PUT', `/api/people/${d.id}`, body);
    await load();
    if (!answer.ok) return answer.message;
    toast.success(done);
    return null;
  };
  const setActive = async (p: PersonRow, active: boolean): Promise<void> => {
    const problem = await change(
      { ...draftOf(p), active },
      active ? `${p.name} may come in again.` : `${p.name} may not come in any more.`,
    );
    if (problem) toast.error(problem, { duration: 12_000 });
  };
  return (
    <main className="mx-auto flex h-full max-w-5xl flex-col px-6">
      <HouseBar here="People">
        <Button tone="primary" className="!h-8" onClick={() => setDraft(NEW)}>
          Add a person
        </Button>
      </HouseBar>
      <h1 className="sr-only">People</h1>
      <div className="relative min-h-0 flex-1 overflow-y-auto border-t border-hair">
        <table className="w-full" data-testid="people">
          <thead className="text-left text-soft">
            <tr>
              <th className="py-2 font-normal">Name</th>
              {RIGHTS.map((r) => (
                <th key={r} className="py-2 font-normal" title={RIGHT_WORDS[r]}>
                  {r}
                </th>
              ))}
              <th className="py-2 font-normal">Last seen</th>
              <th>
                <span className="sr-only">Change</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {people.map((p) => (
              <tr key={p.id} className={cx('border-t border-hair', !p.active && 'text-soft')}>
                <td className="py-2">
                  <b className="font-semibold">{p.name}</b>
                  {p.id === me.id && <span className="text-soft"> (you)</span>}
                  {!p.active && <span> · may not come in</span>}
                </td>
                {RIGHTS.map((r) => (
                  <td key={r} className="py-2">
                    {p.rights.includes(r) ? (
                      <span className={p.active ? 'text-verdigris' : ''}>
                        ● <span className="sr-only">yes</span>
                      </span>
                    ) : (
                      <span className="text-soft">
                        – <span className="sr-only">no</span>
                      </span>
                    )}
                  </td>
                ))}
                <td className="py-2 text-soft">{p.seenAt ? ago(p.seenAt, now) : 'never'}</td>
                <td className="py-1 text-right">
                  <Button onClick={() => setDraft(draftOf(p))}>Change</Button>{' '}
                  <Button onClick={() => void setActive(p, !p.active)}>{p.active ? 'Shut out' : 'Let in'}</Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="py-3 text-soft">
        Whoever is shut out keeps name and history; their sessions end at once. What anybody does is in “Who did what”.
      </p>
      {draft && <PersonDialog draft={draft} onClose={() => setDraft(null)} onTake={change} />}
    </main>
  );
};

const PersonDialog = ({
  draft: first,
  onClose,
  onTake,
}: {
  draft: Draft;
  onClose: () => void;
  onTake: (d: Draft, done: string) => Promise<string | null>;
}) => {
  const [draft, setDraft] = useState(first);
  const [problem, setProblem] = useState<string | null>(null);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    const failed = await onTake(draft, draft.id ? `${draft.name} is changed.` : `${draft.name} may come in.`);
    if (failed) setProblem(failed);
    else onClose();
  };
  const toggle = (r: Right): void =>
    setDraft({
      ...draft,
      rights: draft.rights.includes(r) ? draft.rights.filter((k) => k !== r) : [...draft.rights, r],
    });
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-20 z-50 w-[430px] -translate-x-1/2 rounded border border-soft bg-paper p-5"
        >
          <Dialog.Title className="mb-3 text-[16px] font-semibold">
            {first.id ? first.name : 'A new person'}
          </Dialog.Title>
          <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-3">
            <label>
              <span className="mb-0.5 block text-soft">Name</span>
              <input
                className="field !h-8 !font-text w-full"
                value={draft.name}
                maxLength={80}
                required
                autoComplete="off"
                onChange={(e) => setDraft({ ...draft, name: e.target.value })}
              />
            </label>
            <fieldset>
              <legend className="mb-0.5 text-soft">May</legend>
              {RIGHTS.map((r) => (
                <label key={r} className="flex items-center gap-2 py-0.5">
                  <input
                    type="checkbox"
                    checked={r === 'view' || draft.rights.includes(r)}
                    disabled={r === 'view'}
                    onChange={() => toggle(r)}
                  />
                  <span className="w-20">{r}</span>
                  <span className="text-soft">{RIGHT_WORDS[r]}</span>
                </label>
              ))}
            </fieldset>
            <label>
              <span className="mb-0.5 block text-soft">{first.id ? 'New password (blank: as it is)' : 'Password'}</span>
              <input
                className="field !h-8 w-full"
                value={draft.password}
                maxLength={128}
                required={!first.id}
                autoComplete="new-password"
                onChange={(e) => setDraft({ ...draft, password: e.target.value })}
              />
              <span className="mt-0.5 block text-[12px] text-soft">
                At least 12 characters. Tell it to the person, who changes it on their own page.
              </span>
            </label>
            <FormProblem text={problem} />
            <div className="flex justify-end gap-2">
              <Button onClick={onClose}>Cancel</Button>
              <Button tone="primary" type="submit">
                {first.id ? 'Change' : 'Add'}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
