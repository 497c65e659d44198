import { describe, expect, it } from 'vitest';
import { demoMachine } from '../../../tests/fixtures/machines';
import { DIALECTS, isDialect, noProgramFor } from '.';

describe('a control', () => {
  it('for which no program is written is told as such, with those for which there is one', () => {
    for (const id of ['fellgate-t2', 'fellgate-t2l', 'fellgate-long', 'fellgate-tt', 'fellgate-b6', 'fellgate-slide']) {
      const { dialect } = demoMachine(id);
      const words = noProgramFor(dialect);
      expect(words === null).toBe(isDialect(dialect));
      if (words === null) continue;
      expect(words).toContain(dialect);
      for (const known of DIALECTS) expect(words).toContain(known.name);
    }
    expect(noProgramFor(demoMachine('fellgate-slide').dialect)).not.toBeNull();
    expect(noProgramFor(demoMachine('fellgate-tt').dialect)).toBeNull();
  });
});
