'use client';
import { Dialog } from 'radix-ui';
import { toast } from 'sonner';
import { differencesInWords } from '@/core/plan';
import { Button } from '../kit/controls';
import { useDocument } from './document';
import { useSaving } from './saving';

/** Two people changed the same job: nothing is overwritten before one has chosen, and both versions are kept either way. */
export const ConflictDialog = () => {
  const conflict = useSaving((s) => s.conflict);
  const job = useDocument((s) => s.job);
  if (!conflict) return null;
  const differences = differencesInWords(conflict.theirs, job);
  return (
    <Dialog.Root open>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          className="fixed left-1/2 top-24 z-50 w-[520px] -translate-x-1/2 rounded border border-madder bg-paper p-5"
          data-testid="conflict"
        >
          <Dialog.Title className="mb-1 text-[16px] font-semibold">
            {conflict.updatedBy} has changed this job elsewhere
          </Dialog.Title>
          <Dialog.Description className="mb-2">
            Nothing is lost and nothing overwritten, whatever you choose. From theirs to yours{' '}
            {differences.length === 1 ? 'one thing differs' : `${differences.length} things differ`}:
          </Dialog.Description>
          <ul className="mb-4 max-h-40 overflow-y-auto rounded border border-hair bg-white px-2 py-1">
            {differences.slice(0, 40).map((d, i) => (
              <li key={i}>
                <b className="font-semibold">{d.about}</b>: {d.words}
              </li>
            ))}
          </ul>
          <div className="flex flex-col gap-2">
            <Button
              tone="primary"
              onClick={() =>
                useSaving
                  .getState()
                  .keepBoth()
                  .then(
                    (id) =>
                      id &&
                      toast.success('Your version is saved as a job of its own.', {
                        action: { label: 'Open it', onClick: () => window.location.assign(`/jobs/${id}`) },
                        duration: 15_000,
                      }),
                  )
                  .catch((e: Error) => toast.error(e.message))
              }
            >
              Keep both: mine becomes a job of its own, theirs opens here
            </Button>
            <Button onClick={() => useSaving.getState().putMineOnTop()}>
              Mine on top: theirs stays one undo away, and in the history
            </Button>
            <Button onClick={() => useSaving.getState().takeTheirs()}>Take theirs: mine stays one undo away</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
