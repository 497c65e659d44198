import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const files = (dir: string): string[] =>
  readdirSync(dir, { withFileTypes: true }).flatMap((e) =>
    e.isDirectory() ? files(join(dir, e.name)) : /\.tsx?$/.test(e.name) ? [join(dir, e.name)] : [],
  );

describe('colours', () => {
  const css = readFileSync('src/app/globals.css', 'utf8');
  const defined = new Set([...css.matchAll(/--color-([\w-]+):/g)].map((m) => m[1]));
  it('of the interface come from tokens only, and every token that is named is there', () => {
    for (const file of [...files('src/ui'), ...files('src/app')]) {
      const text = readFileSync(file, 'utf8');
      expect(text.match(/#[0-9a-f]{6}\b|#[0-9a-f]{3}['"]|0x[0-9a-f]{6}\b|rgba?\(/gi), file).toBeNull();
      for (const m of text.matchAll(/var\(--color-([\w-]+)\)|\btoken\('([\w-]+)'\)/g))
        expect(defined.has(m[1] ?? m[2]), `${file}: ${m[0]}`).toBe(true);
    }
  });
});
