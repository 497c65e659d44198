import type { Point } from '../geometry';
import type { MotionEvent } from '../motion';

export interface PostedLine {
  readonly text: string;
  /** Operation that the line belongs to; null for head and foot. */
  readonly op: string | null;
  /** Index of the event in the channel that the line carries out; null for comments and settings of several. */
  readonly event: number | null;
}

/** Something that the dialect cannot say; the program is not complete without it. */
export interface PostProblem {
  readonly op: string;
  readonly event: number;
  readonly what: string;
}

export interface ChannelText {
  readonly channel: string;
  readonly lines: readonly PostedLine[];
  readonly problems: readonly PostProblem[];
}

export interface PostHead {
  readonly programNumber: number;
  readonly comments: readonly string[];
  /** The spindle that plain codes mean. */
  readonly spindle: string;
  /** What a holding is called. */
  readonly holdingName: (id: string) => string;
  /** Whether an operation works at a spindle that faces the main one. */
  readonly turned: (op: string) => boolean;
  /** Comment before each operation. */
  readonly operationComment: (op: string) => string;
  /** The repeat that an operation runs in as a sub-program, and which time it is; null for all others. */
  readonly subProgram: (op: string) => { readonly repeat: string; readonly number: number } | null;
}

export interface ReadProblem {
  readonly line: number;
  readonly message: string;
}

/** What the control's tool table holds for an offset: nose radius and where the programmed tip lies from its centre, in radii. */
export interface ToolTableEntry {
  readonly noseRadius: number;
  readonly tip: Point;
  /** Station whose tool the entry was measured for, where that is known. */
  readonly station?: number;
}

/** What a reader has to know of the machine besides its control. */
export interface ControlSettings {
  readonly toolTable: ReadonlyMap<number, ToolTableEntry>;
  readonly channels: readonly string[];
  readonly carrier: string;
  /** The main spindle. */
  readonly spindle: string;
  /** Work offsets whose zero lies in a spindle that faces the main one. */
  readonly turnedZeros: ReadonlySet<string>;
  /** Work offsets whose zero lies along Z from that of the holding, mm. */
  readonly zeroShifts?: ReadonlyMap<string, number>;
  /** The control's own setting for pecks, mm. */
  readonly peckClearance: number;
}

export interface ReadProgram {
  readonly events: readonly MotionEvent[];
  /** Line of the text that made each event. */
  readonly lines: readonly number[];
  readonly problems: readonly ReadProblem[];
}
