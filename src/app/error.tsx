'use client';

/** What is shown when a page breaks: the job is safe on the server, and loading again brings it back. */
const Broken = ({ error, reset }: { error: Error; reset: () => void }) => (
  <main className="p-10">
    <h1 className="mb-2 text-[18px] font-semibold">This page broke.</h1>
    <p className="mb-2">
      Everything that was shown as saved is safe. Load the page again; if it breaks once more, open the job from the
      list and undo the last change.
    </p>
    <p className="num mb-4 text-soft">{error.message}</p>
    <button type="button" className="rounded border border-woad bg-woad px-3 py-1 text-white" onClick={reset}>
      Try again
    </button>
  </main>
);

export default Broken;
