'use client';
import { formatLength, type LengthUnit } from '@/core/units';
import { usePerson } from '../house/person';
import { useDocument } from '../job/document';

/** The unit in which lengths are shown to this person and read from them: their own, or the job's. */
export const useUnit = (): LengthUnit => {
  const { units } = usePerson().preferences;
  const own = useDocument((s) => s.job.units);
  return units === 'job' ? own : units;
};

/** A radius as X is read: a diameter, unless this person wants radii. */
export const useAcross = (): ((radius: number, unit: LengthUnit) => string) => {
  const { across } = usePerson().preferences;
  return (radius, unit) =>
    across === 'radius' ? `R${formatLength(radius, unit)}` : `⌀${formatLength(radius * 2, unit)}`;
};
