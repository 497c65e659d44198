import type { OperationState } from '@/core/plan';
import { cx } from './controls';

/** State is glyph and word, never colour alone. */
export const STATE_WORDS: Record<OperationState, { glyph: string; word: string; tone: string }> = {
  ready: { glyph: '●', word: 'ready', tone: 'text-verdigris border-verdigris' },
  attention: { glyph: '▲', word: 'needs attention', tone: 'text-weld border-weld' },
  blocked: { glyph: '✕', word: 'blocked', tone: 'text-madder border-madder' },
  off: { glyph: '○', word: 'off', tone: 'text-soft border-soft' },
};

export const StateMark = ({ state }: { state: OperationState }) => {
  const s = STATE_WORDS[state];
  return (
    <span className={cx('inline-flex shrink-0 items-center gap-1 rounded-full border px-2 py-px', s.tone)}>
      <span aria-hidden className="text-[10px]">
        {s.glyph}
      </span>
      {s.word}
    </span>
  );
};

export const formatSeconds = (t: number): string => `${Math.floor(t / 60)}:${(t % 60).toFixed(1).padStart(4, '0')}`;

/** A share in words: what is less than one of 100 is not nothing. */
export const percent = (share: number): string => `${(share * 100).toFixed(share > 0 && share < 0.00995 ? 1 : 0)} %`;

export const longSeconds = (t: number): string =>
  t < 59.95 ? `${t.toFixed(1)} s` : `${Math.floor(Math.round(t) / 60)} min ${Math.round(t) % 60} s`;
