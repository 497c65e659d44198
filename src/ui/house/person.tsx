'use client';
import { createContext, type ReactNode, useContext } from 'react';
import { toast } from 'sonner';
import { may, type Person, RIGHT_WORDS, type Right, USUAL } from '@/house/rights';

// until the page says who it is, nothing is held back here: the server holds back what must be
const NOBODY: Person = { id: '', name: '', rights: ['view', 'program', 'release'], preferences: USUAL };

const Signed = createContext<Person>(NOBODY);

/** The signed-in person, for what is not a component. */
let here: Person = NOBODY;
export const whoIsHere = (): Person => here;

export const PersonProvider = ({ person, children }: { person: Person | null; children: ReactNode }) => {
  if (typeof window !== 'undefined') here = person ?? NOBODY;
  return <Signed.Provider value={person ?? NOBODY}>{children}</Signed.Provider>;
};

export const usePerson = (): Person => useContext(Signed);
export const useMay = (right: Right): boolean => may(useContext(Signed), right);

/** Whether the person here may do something; says why not when they may not. */
export const allowed = (right: Right): boolean => {
  if (may(here, right)) return true;
  toast.error(`${here.name || 'You'} may look at this, not change it.`, {
    id: 'not-allowed',
    description: `It needs the right “${right}”: ${RIGHT_WORDS[right]}. An administrator can give it.`,
  });
  return false;
};
