'use client';
import { Dialog } from 'radix-ui';
import { type FormEvent, useState } from 'react';
import { DEMO_PASSWORD, DEMO_PEOPLE } from '@/house/demo';
import { Mark } from '../jobs/Mark';
import { Button, FormProblem } from '../kit/controls';
import { ask, signedInAgain, useSignedOut } from './ask';
import { usePerson } from './person';

const field = 'field !h-8 !font-text w-full';

/** Name and password; `onDone` is called when they were right. */
const SignInForm = ({
  name: first = '',
  password: filled = '',
  onDone,
}: {
  name?: string;
  password?: string;
  onDone: (name: string) => void;
}) => {
  const [name, setName] = useState(first);
  const [password, setPassword] = useState(filled);
  const [shown, setShown] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    setBusy(true);
    setProblem(null);
    const done = await ask<{ name: string }>('POST', '/api/session', { name, password });
    setBusy(false);
    if (done.ok) onDone(done.body.name);
    else setProblem(done.status === 0 ? `Not signed in: ${done.message}. Try again.` : done.message);
  };
  return (
    <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-3">
      <label>
        <span className="mb-0.5 block text-soft">Name</span>
        <input
          className={field}
          value={name}
          autoComplete="username"
          maxLength={80}
          required
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <div className="relative">
        <label>
          <span className="mb-0.5 block text-soft">Password</span>
          <input
            className={field}
            type={shown ? 'text' : 'password'}
            value={password}
            autoComplete="current-password"
            maxLength={128}
            required
            onChange={(e) => setPassword(e.target.value)}
          />
        </label>
        <button
          type="button"
          aria-pressed={shown}
          className="absolute right-0 top-0 text-soft underline"
          onClick={() => setShown(!shown)}
        >
          {shown ? 'hide it' : 'show it'}
        </button>
      </div>
      <FormProblem text={problem} />
      <Button tone="primary" type="submit" className="!h-8" disabled={busy}>
        {busy ? 'Signing in …' : 'Sign in'}
      </Button>
    </form>
  );
};

/** The way in. A demo shop shows its people and their password here, and only a demo shop. */
export const SignInPage = ({ shop, demo, to }: { shop: string; demo: boolean; to: string }) => {
  const [chosen, setChosen] = useState<string | null>(null);
  return (
    <main className="mx-auto flex min-h-full max-w-3xl flex-col justify-center gap-6 px-6 py-10">
      <header className="flex items-center gap-3">
        <Mark size={30} />
        <h1 className="text-[24px] font-semibold">Lively Spindle</h1>
        <span className="text-soft">{shop}</span>
      </header>
      <div className="grid grid-cols-1 gap-6 sm:grid-cols-[18rem_1fr]">
        <section className="rounded border border-hair bg-paper p-5">
          <h2 className="mb-3 text-[16px] font-semibold">Sign in</h2>
          <SignInForm
            key={chosen}
            name={chosen ?? ''}
            password={chosen ? DEMO_PASSWORD : ''}
            onDone={() => window.location.assign(to)}
          />
        </section>
        {demo ? (
          <section className="p-1">
            <h2 className="mb-1 font-semibold">A demo shop</h2>
            <p className="mb-2 text-soft">
              Everybody here is invented. Choose somebody; the password of all of them is{' '}
              <code className="num text-ink">{DEMO_PASSWORD}</code>
            </p>
            <ul>
              {DEMO_PEOPLE.map((p) => (
                <li key={p.name} className="border-t border-hair">
                  <button
                    type="button"
                    className="flex w-full items-baseline gap-3 px-1 py-2 text-left hover:bg-paper"
                    aria-pressed={chosen === p.name}
                    onClick={() => setChosen(p.name)}
                  >
                    <span className={chosen === p.name ? 'w-32 font-semibold text-woad' : 'w-32'}>{p.name}</span>
                    <span className="text-soft">{p.does}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ) : (
          <p className="p-1 text-soft">
            Names and passwords come from an administrator of this shop. A forgotten password is set anew by one.
          </p>
        )}
      </div>
    </main>
  );
};

/** The first administrator of an empty shop, by the code that bin/start printed. */
export const FirstPage = ({ code: given }: { code: string }) => {
  const [code, setCode] = useState(given);
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [again, setAgain] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    if (password !== again) {
      setProblem('The two passwords are not the same.');
      return;
    }
    const done = await ask('POST', '/api/first', { code, name, password });
    if (done.ok) window.location.assign('/people');
    else setProblem(done.message);
  };
  const row = (
    label: string,
    value: string,
    set: (v: string) => void,
    more: { type?: string; auto?: string; help?: string } = {},
  ) => (
    <label>
      <span className="mb-0.5 block text-soft">{label}</span>
      <input
        className={field}
        type={more.type ?? 'text'}
        autoComplete={more.auto ?? 'off'}
        value={value}
        required
        onChange={(e) => set(e.target.value)}
      />
      {more.help && <span className="mt-0.5 block text-[12px] text-soft">{more.help}</span>}
    </label>
  );
  return (
    <main className="mx-auto flex min-h-full max-w-md flex-col justify-center gap-5 px-6 py-10">
      <header className="flex items-center gap-3">
        <Mark size={30} />
        <h1 className="text-[24px] font-semibold">Lively Spindle</h1>
      </header>
      <section className="rounded border border-hair bg-paper p-5">
        <h2 className="mb-1 text-[16px] font-semibold">Nobody works here yet</h2>
        <p className="mb-3 text-soft">Name the first administrator, who then lets the others in.</p>
        <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-3">
          {row('Code', code, setCode, { help: 'bin/start printed it among its last lines.' })}
          {row('Name', name, setName, { auto: 'username' })}
          {row('Password', password, setPassword, {
            type: 'password',
            auto: 'new-password',
            help: 'At least 12 characters; a few words are easy to keep.',
          })}
          {row('Password once more', again, setAgain, { type: 'password', auto: 'new-password' })}
          <FormProblem text={problem} />
          <Button tone="primary" type="submit" className="!h-8">
            Begin
          </Button>
        </form>
      </section>
    </main>
  );
};

/** Asks to sign in on the spot when a session has ended in the middle of work. */
export const SignedOutDialog = () => {
  const { out } = useSignedOut();
  const person = usePerson();
  if (!out) return null;
  return (
    <Dialog.Root open>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-[60] bg-ink/25" />
        <Dialog.Content
          className="fixed left-1/2 top-24 z-[60] w-[360px] -translate-x-1/2 rounded border border-soft bg-paper p-5"
          data-testid="signed-out"
          // the name is known: what is missing is the password
          onOpenAutoFocus={(e) => {
            e.preventDefault();
            (e.currentTarget as HTMLElement).querySelector<HTMLInputElement>('input[type=password]')?.focus();
          }}
        >
          <Dialog.Title className="mb-1 text-[16px] font-semibold">Your session has ended</Dialog.Title>
          <Dialog.Description className="mb-3">
            Nothing is lost: what you changed is kept in this window and is saved as soon as you are signed in again.
          </Dialog.Description>
          <SignInForm
            name={person.name}
            onDone={(name) => {
              signedInAgain();
              // somebody else has other rights and ways: the page begins anew with what is kept
              if (name !== person.name) window.location.reload();
            }}
          />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
