const MOST_SHOWN = 80;

/** A file name as text that is safe to show and store: long ones lose their middle, never their kind; no half characters. */
export const shownName = (name: string): string => {
  const clean = [...name.toWellFormed()].filter((c) => c >= ' ' && c !== '\u007f');
  if (clean.length === 0) return 'the file';
  if (clean.length <= MOST_SHOWN) return clean.join('');
  const kind = /\.[^.]{1,10}$/.exec(clean.join(''))?.[0] ?? '';
  return `${clean.slice(0, MOST_SHOWN - 1 - kind.length).join('')}…${kind}`;
};
