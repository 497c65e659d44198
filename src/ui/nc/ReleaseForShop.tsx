'use client';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { toast } from 'sonner';
import { ask } from '../house/ask';
import { useMay } from '../house/person';
import { useDocument } from '../job/document';
import { savingStand, useSaving } from '../job/saving';
import { Button, Section } from '../kit/controls';

/** Releases the revision as it stands on the server: a worker posts and proves it again, and keeps the programs. */
export const ReleaseForShop = ({ sound }: { sound: boolean }) => {
  const router = useRouter();
  const mayRelease = useMay('release');
  const id = useDocument((s) => s.id);
  const saved = useSaving((s) => s.saving.kind === 'saved');
  const [name, setName] = useState('');
  const [busy, setBusy] = useState(false);
  if (!mayRelease) return null;
  const release = async (): Promise<void> => {
    const stand = savingStand();
    if (!stand) return;
    setBusy(true);
    const url = `/api/jobs/${id}/revisions/${stand.version}/name`;
    const done = await ask('PUT', url, { name: name.trim(), released: true });
    setBusy(false);
    if (!done.ok) {
      toast.error('Not released.', { description: done.message, duration: 12_000 });
      return;
    }
    setName('');
    toast.success(`Revision ${stand.version} is being posted and proved for its release.`, {
      description: 'The history tells when it is done, and keeps the programs.',
      action: { label: 'History', onClick: () => router.push(`/jobs/${id}/history`) },
      duration: 12_000,
    });
  };
  return (
    <Section title="Release for the shop">
      <form
        className="flex flex-col gap-1.5"
        onSubmit={(e) => {
          e.preventDefault();
          void release();
        }}
      >
        <input
          aria-label="Name of the release"
          placeholder="name, such as first off"
          className="field !font-text w-full"
          maxLength={120}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <Button type="submit" className="w-full" disabled={busy || !sound || !saved || name.trim() === ''}>
          Release this revision
        </Button>
        <p className="text-soft">
          {!sound
            ? 'What blocks the program comes first.'
            : saved
              ? 'Its programs are kept in the history as they went out.'
              : 'Waits until all is saved.'}
        </p>
      </form>
    </Section>
  );
};
