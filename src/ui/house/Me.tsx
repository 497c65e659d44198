'use client';
import { type FormEvent, type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { type Preferences, RIGHT_WORDS } from '@/house/rights';
import { Button, cx, FormProblem } from '../kit/controls';
import { ask } from './ask';
import { HouseBar } from './HouseBar';
import { usePerson } from './person';

const Pick = <T extends string>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: readonly { readonly value: T; readonly label: string; readonly more: string }[];
  onChange: (v: T) => void;
}) => (
  <div className="border-t border-hair py-3">
    <h3 className="mb-1">{label}</h3>
    <div role="radiogroup" aria-label={label} className="flex flex-wrap gap-2">
      {options.map((o) => (
        <label
          key={o.value}
          className={cx(
            'flex cursor-pointer items-center gap-2 rounded border px-3 py-1.5',
            value === o.value ? 'border-woad bg-woad-pale' : 'border-hair bg-white',
          )}
        >
          <input type="radio" name={label} checked={value === o.value} onChange={() => onChange(o.value)} />
          <span>
            {o.label} <span className="text-soft">{o.more}</span>
          </span>
        </label>
      ))}
    </div>
  </div>
);

const Box = ({ title, children }: { title: string; children: ReactNode }) => (
  <section className="mb-5 rounded border border-hair bg-paper px-5 py-4">
    <h2 className="mb-2 text-[16px] font-semibold">{title}</h2>
    {children}
  </section>
);

/** A person's own page: how things are shown to them, and their password. */
export const Me = () => {
  const person = usePerson();
  const [shown, setShown] = useState(person.preferences);
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const prefer = async (change: Partial<Preferences>): Promise<void> => {
    const wanted = { ...shown, ...change };
    setShown(wanted);
    document.documentElement.dataset.ground = wanted.ground;
    const done = await ask('PUT', '/api/me', wanted);
    if (!done.ok) toast.error(done.message);
  };
  const changePassword = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    const done = await ask('POST', '/api/me/password', { old, next });
    if (!done.ok) {
      setProblem(done.message);
      return;
    }
    setProblem(null);
    setOld('');
    setNext('');
    toast.success('Your password is changed. Everywhere else you are signed out.');
  };
  return (
    <main className="mx-auto max-w-5xl px-6">
      <HouseBar here="You" />
      <div className="max-w-2xl">
        <h1 className="mb-1 text-[20px] font-semibold">{person.name}</h1>
        <p className="mb-4 text-soft">{person.rights.map((r) => RIGHT_WORDS[r]).join('; ')}.</p>
        <Box title="How things are shown to you">
          <Pick
            label="Lengths"
            value={shown.units}
            options={[
              { value: 'job', label: 'as the job', more: 'mm or inch by its drawing' },
              { value: 'mm', label: 'mm', more: 'always' },
              { value: 'inch', label: 'inch', more: 'always' },
            ]}
            onChange={(units) => void prefer({ units })}
          />
          <Pick
            label="X in readouts"
            value={shown.across}
            options={[
              { value: 'diameter', label: 'diameter', more: '⌀40' },
              { value: 'radius', label: 'radius', more: 'R20' },
            ]}
            onChange={(across) => void prefer({ across })}
          />
          <Pick
            label="Ground"
            value={shown.ground}
            options={[
              { value: 'light', label: 'light', more: 'linen' },
              { value: 'dark', label: 'dark', more: 'for the shop floor at night' },
            ]}
            onChange={(ground) => void prefer({ ground })}
          />
          <p className="border-t border-hair pt-2 text-soft">
            Programs and drawings stay as they are; only what you see and type changes.
          </p>
        </Box>
        <Box title="Password">
          <form onSubmit={(e) => void changePassword(e)} className="flex max-w-sm flex-col gap-2">
            <input
              type="text"
              className="hidden"
              autoComplete="username"
              defaultValue={person.name}
              tabIndex={-1}
              aria-hidden
            />
            <label>
              <span className="text-soft">Present password</span>
              <input
                type="password"
                className="field !h-8 w-full"
                autoComplete="current-password"
                value={old}
                required
                onChange={(e) => setOld(e.target.value)}
              />
            </label>
            <label>
              <span className="text-soft">New password, at least 12 characters</span>
              <input
                type="password"
                className="field !h-8 w-full"
                autoComplete="new-password"
                value={next}
                minLength={12}
                maxLength={128}
                required
                onChange={(e) => setNext(e.target.value)}
              />
            </label>
            <FormProblem text={problem} />
            <Button type="submit" className="!h-8 self-start">
              Change the password
            </Button>
          </form>
        </Box>
      </div>
    </main>
  );
};
