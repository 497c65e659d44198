import type { Right } from './rights';

/** Invented people of the demo shop; their password is shown at its sign-in, and nowhere else is it good for anything. */
export const DEMO_PASSWORD = 'treadle-and-flyer';

export const DEMO_PEOPLE: readonly {
  readonly name: string;
  readonly rights: readonly Right[];
  readonly does: string;
}[] = [
  { name: 'Ottilie Marsh', rights: ['view', 'program'], does: 'programs' },
  { name: 'Bram Fenwick', rights: ['view', 'program', 'release'], does: 'programs and releases' },
  { name: 'Isa Dole', rights: ['view'], does: 'works on the shop floor, reads only' },
  { name: 'Wren Tolliver', rights: ['view', 'administer'], does: 'lets people in' },
];
