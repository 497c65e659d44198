'use client';
import Link from 'next/link';
import { useEffect, useState } from 'react';
import { type KeptRecord, leftBehind } from '../job/kept';
import { ago } from '../kit/moments';

/** Jobs with changes that are kept in this browser and not on the server yet; what is still being saved drops out by itself. */
export const UnsavedElsewhere = () => {
  const [records, setRecords] = useState<readonly KeptRecord[]>([]);
  useEffect(() => {
    const look = (): void => void leftBehind().then(setRecords);
    look();
    const t = setInterval(look, 2000);
    return () => clearInterval(t);
  }, []);
  if (records.length === 0) return null;
  return (
    <ul className="mb-2 rounded border border-weld bg-weld-pale px-3 py-1.5" data-testid="unsaved" role="status">
      {records.map((r) => (
        <li key={r.key}>
          <span aria-hidden>▲</span> Changes of{' '}
          <Link href={`/jobs/${r.job}`} className="font-semibold underline">
            {r.title}
          </Link>{' '}
          by {r.name || 'somebody'} ({ago(new Date(r.at).toISOString(), Date.now())}) are kept in this browser and not
          saved yet. Open it and they are brought back.
        </li>
      ))}
    </ul>
  );
};
