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

export interface RateUnit {
  readonly unit: string;
  /** How much of the rate as it is kept is one as it is shown. */
  readonly scale: number;
  /** By how much the arrow keys step it, as it is shown. */
  readonly step: number;
}

const INCH: Readonly<Record<string, Omit<RateUnit, 'step'> & { readonly step?: number }>> = {
  'mm/rev': { unit: 'in/rev', scale: 25.4, step: 0.0005 },
  'mm/min': { unit: 'in/min', scale: 25.4, step: 1 },
  'm/min': { unit: 'ft/min', scale: 0.3048 },
};

/** A feed or a speed as somebody who reads in a unit of length wants it: mm/rev, mm/min and m/min have inch twins. */
export const rateUnit = (kept: string, step: number, unit: LengthUnit): RateUnit => ({
  unit: kept,
  scale: 1,
  step,
  ...(unit === 'inch' ? INCH[kept] : {}),
});

/** Feed and speed of a cut in the units in which somebody reads them. */
export const cuttingRates = (
  mode: 'surface' | 'fixed',
  unit: LengthUnit,
): { readonly feed: RateUnit; readonly speed: RateUnit } => ({
  feed: rateUnit('mm/rev', 0.01, unit),
  speed: rateUnit(mode === 'surface' ? 'm/min' : 'rev/min', 10, unit),
});

/** A rate in words, without its unit. */
export const rateWord = (value: number, { scale }: Pick<RateUnit, 'scale'>): string =>
  String(Number((value / scale).toFixed(4)));
