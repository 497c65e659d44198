'use client';
import { Dialog } from 'radix-ui';
import { toast } from 'sonner';
import { diffDocuments } from '@/core/plan';
import { Button } from '../kit/controls';
import { useDocument } from './document';
import { useSaving } from './saving';

const places = (d: ReturnType<typeof diffDocuments>): string[] =>
  [...Object.keys(d.added), ...Object.keys(d.updated), ...Object.keys(d.removed)].map((p) =>
    p.slice(1).replace(/\//g, ' › '),
  );

/** Two people changed the same job: nothing is overwritten before one has chosen, and both versions are kept either way. */
export const ConflictDialog = () => {
  const conflict = useSaving((s) => s.conflict);
  const job = useDocument((s) => s.job);
  if (!conflict) return null;
  const differences = places(diffDocuments(conflict.theirs, job));
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
            Your changes are not lost and theirs are not overwritten. The two versions differ in{' '}
            {differences.length === 1 ? 'one place' : `${differences.length} places`}:
          </Dialog.Description>
          <ul className="num mb-4 max-h-32 overflow-y-auto rounded border border-hair bg-white px-2 py-1">
            {differences.slice(0, 30).map((p) => (
              <li key={p} className="truncate">
                {p}
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
              Save mine here; theirs stays in the history
            </Button>
            <Button onClick={() => useSaving.getState().takeTheirs()}>Take theirs; mine stays one undo away</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};
