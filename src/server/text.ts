/** Characters that no text of a job can have: NUL, which the database cannot keep, and halves of characters. */
const LONE = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;
const NUL = '\u0000';

export interface BadText {
  /** JSON pointer of the text, or of the key's holder. */
  readonly path: string;
  readonly what: 'NUL' | 'half';
  readonly at: number;
}

const inText = (text: string, path: string): BadText | null => {
  const nul = text.indexOf(NUL);
  if (nul >= 0) return { path, what: 'NUL', at: nul + 1 };
  const half = LONE.exec(text);
  return half ? { path, what: 'half', at: half.index + 1 } : null;
};

/** The first text or key anywhere in a JSON value that cannot be kept. */
export const findBadText = (value: unknown, path = ''): BadText | null => {
  if (typeof value === 'string') return inText(value, path);
  if (typeof value !== 'object' || value === null) return null;
  if (Array.isArray(value)) {
    for (const [i, v] of value.entries()) {
      const bad = findBadText(v, `${path}/${i}`);
      if (bad) return bad;
    }
    return null;
  }
  for (const [key, v] of Object.entries(value)) {
    const bad = inText(key, path) ?? findBadText(v, `${path}/${key.replace(/~/g, '~0').replace(/\//g, '~1')}`);
    if (bad) return bad;
  }
  return null;
};

export const wordsOfBadText = ({ path, what, at }: BadText): string =>
  `${path === '' ? 'The text' : `The text at ${path.slice(1).replace(/\//g, ' › ')}`} has ${
    what === 'NUL' ? 'a NUL character' : 'half a character'
  } at place ${at}, which cannot be kept. Delete it and type it again.`;

/** A text cut to so many characters, never within one. */
export const cutText = (text: string, most: number): string => {
  const cut = text.slice(0, most);
  return /[\ud800-\udbff]$/.test(cut) ? cut.slice(0, -1) : cut;
};

const MOST_OF_NAME = 255;

/** A file's name from a header, where it stands percent-encoded; null when it is none. Long names are cut, kind kept. */
export const fileNameOf = (header: string): string | null => {
  let name: string;
  try {
    name = decodeURIComponent(header);
  } catch {
    return null;
  }
  if (findBadText(name)) return null;
  // biome-ignore lint/suspicious/noControlCharactersInRegex: they are what is removed
  const plain = name.replace(/[\u0001-\u001f\u007f]/g, '');
  if (plain.length <= MOST_OF_NAME) return plain;
  const kind = /\.[^.]{1,10}$/.exec(plain)?.[0] ?? '';
  return cutText(plain, MOST_OF_NAME - kind.length) + kind;
};
