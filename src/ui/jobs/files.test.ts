import { describe, expect, it } from 'vitest';
import { shownName } from '../kit/fileNames';
import { namesOfFile } from './files';

describe('names of a dropped file', () => {
  it.each([
    ['LM-212.step', 'LM-212', ''],
    ['LM-212 valve body.step', 'LM-212', 'valve body'],
    ['LM-101-B.step', 'LM-101-B', ''],
    ['lm_0155_ferrule.stl', 'lm_0155', 'ferrule'],
    ['ferrule.dxf', null, 'ferrule'],
    ['12.dxf', null, '12'],
    ['part two.STP', null, 'part two'],
  ])('%s', (file, number, name) => expect(namesOfFile(file)).toEqual({ number, name }));
  it('are shown without what a page must not print', () => {
    expect(shownName('a\u0000b\u001b.step')).toBe('ab.step');
    expect(shownName('')).toBe('the file');
    expect(shownName('x'.repeat(300)).length).toBe(80);
    // the kind of a long name stays, and no character is cut in half
    expect(shownName(`${'x'.repeat(120)}.step`)).toMatch(/^x{74}….step$/);
    expect(shownName(`${'🔩'.repeat(100)}.dxf`).isWellFormed()).toBe(true);
    expect(shownName('a\ud83db.stl').isWellFormed()).toBe(true);
  });
});
