import type { MotionEvent } from '../motion';
import type { ChannelText, ControlSettings, PostHead, ReadProgram } from './program';

/** Controls that are alike: data for each, and the code that data cannot say. Nothing outside a family knows a code. */
export interface Family<D extends { readonly id: string; readonly name: string }> {
  readonly id: string;
  readonly dialects: readonly D[];
  /** One channel's events as text. */
  readonly post: (
    channel: string,
    events: readonly MotionEvent[],
    dialect: D,
    head: PostHead,
    channels: readonly string[],
  ) => ChannelText;
  /** What of an event a control of that dialect has no words for, whatever stands beside it; null where it has them. `main` is the spindle that plain codes mean. */
  readonly unsaid: (event: MotionEvent, dialect: D, main: string) => string | null;
  /** What a control of that dialect does with a text. */
  readonly read: (text: string, dialect: D, settings: ControlSettings) => ReadProgram;
}
