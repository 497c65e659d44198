import type { Finding } from '../findings';
import type { Machine, MachineCodes } from '../machine';
import type { MotionEvent } from '../motion';
import type { ChannelText, ControlSettings, PostHead, ReadProgram } from './program';

/** One of a machine's codes: what is done, by which code, and whether the machine's own data says so instead of the control. */
export interface CodeLine {
  readonly name: string;
  /** Empty where there is none. */
  readonly code: string;
  readonly own: boolean;
}

/** Controls that are alike: data for each, and the code that data cannot say. Nothing outside a family knows a code. */
export interface Family<D extends { readonly id: string; readonly name: string }> {
  readonly id: string;
  readonly dialects: readonly D[];
  /** A control as it is built into one machine, with the machine's names and codes. */
  readonly inMachine: (dialect: D, machine: Machine) => D;
  /** What is wrong with the codes that a machine gives its control. */
  readonly codeFindings: (dialect: D, machine: Machine) => Finding[];
  /** All codes of a machine by name, also of what has none yet. */
  readonly codeLines: (dialect: D, machine: Machine) => CodeLine[];
  /** The codes of a machine with one of them given, or left to the control with null. */
  readonly withCode: (machine: Machine, name: string, code: string | null) => MachineCodes;
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
