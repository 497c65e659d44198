/** All that the audit list tells of. */
export const ACTIONS = [
  'signed in',
  'signed out',
  'sign-in refused',
  'right refused',
  'password changed',
  'person made',
  'person changed',
  'person removed',
  'job made',
  // told from the revisions themselves
  'job edited',
  'job deleted',
  'job brought back',
  'labels set',
  'revision named',
  'revision’s name taken away',
  'release asked for',
  'revision released',
  'release refused',
] as const;
export type Action = (typeof ACTIONS)[number];
