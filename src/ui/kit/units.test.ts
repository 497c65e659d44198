import { describe, expect, it } from 'vitest';
import { rateUnit, rateWord } from './units';

describe('rates for somebody who reads inches', () => {
  it('are the same feed and speed in inch units', () => {
    const feed = rateUnit('mm/rev', 0.01, 'inch');
    expect(feed.unit).toBe('in/rev');
    // 0.254 mm are a hundredth of an inch
    expect(rateWord(0.254, feed)).toBe('0.01');
    const speed = rateUnit('m/min', 10, 'inch');
    expect(speed).toMatchObject({ unit: 'ft/min', step: 10 });
    // 304.8 m are 1000 ft
    expect(rateWord(304.8, speed)).toBe('1000');
    expect(rateWord(508, rateUnit('mm/min', 50, 'inch'))).toBe('20');
  });
  it('are as they are kept in millimetres, and where they are no lengths', () => {
    expect(rateUnit('mm/rev', 0.01, 'mm')).toEqual({ unit: 'mm/rev', scale: 1, step: 0.01 });
    expect(rateUnit('rev/min', 10, 'inch')).toEqual({ unit: 'rev/min', scale: 1, step: 10 });
    expect(rateUnit('°', 0.5, 'inch')).toEqual({ unit: '°', scale: 1, step: 0.5 });
    expect(rateWord(0.15, rateUnit('mm/rev', 0.01, 'mm'))).toBe('0.15');
  });
});
