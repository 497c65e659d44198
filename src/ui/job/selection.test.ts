import { describe, expect, it } from 'vitest';
import { FIRST, selected, within } from './selection';

describe('selection', () => {
  const span = { side: 'outer', from: 'a', to: 'b' } as const;
  it('keeps what a change does not name', () => {
    const s = selected({ ...FIRST, operation: 'op1', time: 5 }, { phase: 'prove' });
    expect(s).toEqual({ ...FIRST, operation: 'op1', time: 5, phase: 'prove' });
  });
  it('ends the preview when the span changes, not when it stays', () => {
    const s = { ...FIRST, span, previewed: 2 };
    expect(selected(s, { span: { ...span, to: 'c' } }).previewed).toBeNull();
    expect(selected(s, { span }).previewed).toBe(2);
    expect(selected(s, { operation: 'op2' }).previewed).toBeNull();
    expect(selected(s, { time: 3 }).previewed).toBe(2);
  });
  it('takes the time cursor back when the job gets shorter', () => {
    expect(within({ ...FIRST, time: 80, playing: true }, 60)).toEqual({ ...FIRST, time: 60, playing: false });
    const s = { ...FIRST, time: 30 };
    expect(within(s, 60)).toBe(s);
  });
});
