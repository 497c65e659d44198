import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEMO_PASSWORD, DEMO_PEOPLE } from '../house/demo';
import { PersonName, weakness } from '../house/rights';
import { isOurs } from './door';
import { hashPassword, passwordMatches } from './passwords';
import { Rates } from './rates';
import { cutText, fileNameOf, findBadText, wordsOfBadText } from './text';
import { Turns } from './turns';

describe('texts that cannot be kept', () => {
  it.each([
    [{ a: ['x', { b: 'q\u0000' }] }, '/a/1/b', 'NUL', 2],
    [{ 'a/b': 'half \ud83d' }, '/a~1b', 'half', 6],
    [{ a: { 'k\udc00': 1 } }, '/a', 'half', 2],
  ])('are found with their place: %j', (value, path, what, at) => {
    expect(findBadText(value)).toEqual({ path, what, at });
  });
  it('are none in whole characters, however rare', () => {
    fc.assert(
      fc.property(fc.json({ stringUnit: 'binary' }), (text) => {
        const clean = JSON.parse(text, (_k, v) => (typeof v === 'string' ? v.replaceAll('\u0000', '') : v));
        const keys = JSON.stringify(clean).includes('\\u0000');
        if (!keys) expect(findBadText(clean)).toBeNull();
      }),
    );
    expect(findBadText({ note: 'nut 🔩 and café', list: [1, null, true] })).toBeNull();
  });
  it('are told with place and remedy', () =>
    expect(wordsOfBadText({ path: '/header/note', what: 'half', at: 3 })).toBe(
      'The text at header › note has half a character at place 3, which cannot be kept. Delete it and type it again.',
    ));
  it('never come of cutting', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), fc.nat(40), (text, most) => {
        const cut = cutText(text, most);
        expect(cut.isWellFormed()).toBe(true);
        expect(cut.length).toBeLessThanOrEqual(most);
        expect(text.startsWith(cut)).toBe(true);
      }),
    );
  });
});

describe('names of files in a header', () => {
  it('are read, kept with their kind when they are long, and refused when they are none', () => {
    expect(fileNameOf(encodeURIComponent('Spüle 🔩.step'))).toBe('Spüle 🔩.step');
    const long = fileNameOf(encodeURIComponent(`${'🔩'.repeat(200)}.step`));
    expect(long?.length).toBeLessThanOrEqual(255);
    expect(long).toMatch(/\.step$/);
    expect(long?.isWellFormed()).toBe(true);
    for (const bad of ['%', '%ff', '%00.step', '%ed%a0%80']) expect(fileNameOf(bad), bad).toBeNull();
  });
});

describe('the origin of a write', () => {
  it.each<[string, string | null, boolean, boolean]>([
    ['http://127.0.0.1:4310', '127.0.0.1:4310', false, true],
    ['http://127.0.0.1:4310', 'localhost:4310', false, false],
    ['https://shop.example', 'shop.example', true, true],
    // of the same name, but readable on its way
    ['http://shop.example', 'shop.example', true, false],
    ['http://127.0.0.1:4310', '127.0.0.1:4310', true, true],
    ['https://shop.example.evil.example', 'shop.example', true, false],
    ['https://shop.example:444', 'shop.example', true, false],
    ['null', 'shop.example', true, false],
    ['https://shop.example', null, true, false],
  ])('%s for %s, encrypted: %s', (origin, host, tls, ours) => {
    expect(isOurs(origin, host, tls)).toBe(ours);
  });
});

describe('rates', () => {
  it('let a burst through, then as many as fill up again, each key for itself', () => {
    const rates = new Rates();
    const rate = { burst: 5, perSecond: 2 };
    const taken = (key: string, at: number): boolean => rates.take(key, rate, at) === 0;
    expect([0, 0, 0, 0, 0, 0].map(() => taken('a', 0))).toEqual([true, true, true, true, true, false]);
    expect(taken('b', 0)).toBe(true);
    expect(rates.take('a', rate, 0)).toBe(1);
    // two seconds fill four
    expect([1, 2, 3, 4, 5].map(() => taken('a', 2000))).toEqual([true, true, true, true, false]);
  });
  it('never let more through than the rate, whatever the times', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 400 }), { minLength: 1, maxLength: 200 }), (gaps) => {
        const rates = new Rates();
        let now = 0;
        let through = 0;
        for (const gap of gaps) {
          now += gap;
          if (rates.take('k', { burst: 8, perSecond: 5 }, now) === 0) through++;
        }
        expect(through).toBeLessThanOrEqual(8 + (now / 1000) * 5 + 1e-6);
      }),
    );
  });
});

describe('turns', () => {
  it('run one after another for one key, side by side for others, and go on after a failure', async () => {
    const turns = new Turns();
    const log: string[] = [];
    let release = (): void => undefined;
    const first = turns.take('a', async () => {
      await new Promise<void>((go) => (release = go));
      log.push('a1');
      throw new Error('no');
    });
    const second = turns.take('a', async () => log.push('a2'));
    await turns.take('b', async () => log.push('b1'));
    expect(log).toEqual(['b1']);
    release();
    await expect(first).rejects.toThrow('no');
    await second;
    expect(log).toEqual(['b1', 'a1', 'a2']);
  });
  it('turn away a crowd', async () => {
    const turns = new Turns();
    let release = (): void => undefined;
    const held = turns.take('a', () => new Promise<void>((go) => (release = go)));
    const waiting = Array.from({ length: 199 }, () => turns.take('a', async () => 1));
    await expect(turns.take('a', async () => 1)).rejects.toMatchObject({ code: '55P03' });
    release();
    await Promise.all([held, ...waiting]);
  });
});

describe('passwords', () => {
  it('match only themselves, each hash with a salt of its own', async () => {
    const [a, b] = await Promise.all([hashPassword('warp and weft'), hashPassword('warp and weft')]);
    expect(a).not.toBe(b);
    expect(a).toMatch(/^scrypt\$32768\$8\$3\$/);
    expect(await passwordMatches('warp and weft', a)).toBe(true);
    expect(await passwordMatches('warp and wefT', a)).toBe(false);
    expect(await passwordMatches('anything', 'plain$text')).toBe(false);
    // the same letters typed another way
    expect(await passwordMatches('cafe\u0301 at noon', await hashPassword('caf\u00e9 at noon'))).toBe(true);
  });
  it.each(['password1234', 'aaaaaaaaaaaaaa', '123456789012', 'Qwerty!!!!!!1', 'abababababab', 'Ottilie Marsh 1'])(
    'that are guessed first are refused: %s',
    (p) => expect(weakness(p, 'Ottilie Marsh')).not.toBeNull(),
  );
  it('that are a few words are taken; so is the demo’s, by everybody of it', () => {
    expect(weakness('a spindle of my own', 'Ottilie Marsh')).toBeNull();
    for (const p of DEMO_PEOPLE) expect(weakness(DEMO_PASSWORD, p.name)).toBeNull();
  });
  it('belong to names without signs that cannot be seen', () => {
    expect(PersonName.safeParse('Zoë O’Brien-Ng 2').success).toBe(true);
    for (const bad of ['', '   ', 'a\u0000', 'a\nb', 'x\ud800', 'y'.repeat(81)])
      expect(PersonName.safeParse(bad).success, JSON.stringify(bad)).toBe(false);
  });
});
