import Link from 'next/link';

/** What stands in the place of a job that is not there or cannot be read. */
export const Gone = ({ head, why }: { head: string; why: string }) => (
  <main className="p-10">
    <h1 className="mb-2 text-[18px] font-semibold">{head}</h1>
    <p className="mb-4 text-soft">{why}</p>
    <Link href="/" className="text-woad underline">
      Back to the jobs
    </Link>
  </main>
);

export const NOT_THERE = {
  head: 'This job is not there.',
  why: 'It may have been deleted, or the address is not complete.',
};
