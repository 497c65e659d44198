import type { AxisName } from '../machine';

/** Axis words of the programmed tip in part coordinates: mm (X as radius) and degrees. Axes not named stay. */
export type Position = Readonly<Partial<Record<AxisName, number>>>;

export type Purpose = 'setup' | 'tool-change' | 'approach' | 'lead-in' | 'cut' | 'lead-out' | 'retract' | 'link';

export type Feed =
  /** mm/rev of the spindle. */
  | { readonly mode: 'perRev'; readonly value: number }
  /** mm/min. */
  | { readonly mode: 'perMin'; readonly value: number }
  /** mm for each tooth of a turning cutter; a turn of the spindle takes `teeth` of them. */
  | { readonly mode: 'perTooth'; readonly value: number; readonly teeth: number };

export type SpindleSpeed =
  | { readonly mode: 'surface'; readonly value: number; readonly clamp: number }
  | { readonly mode: 'fixed'; readonly value: number };

/** What a control can do by one of its cycles in place of the moves between begin and end. */
export type CycleSpec =
  | {
      readonly kind: 'rough-levels';
      /** Which way the passes run. */
      readonly along: 'z' | 'x';
      /** Contour blocks in order of travel, programmed-tip coordinates; the first block only approaches, across the passes. */
      readonly contour: readonly ContourBlock[];
      readonly depth: number;
      readonly retract: number;
      readonly allowanceX: number;
      readonly allowanceZ: number;
      readonly start: { readonly X: number; readonly Z: number };
      readonly feed: number;
    }
  | {
      readonly kind: 'rough-pattern';
      /** Contour blocks in order of travel, programmed-tip coordinates; the first block only approaches. */
      readonly contour: readonly ContourBlock[];
      /** How far the first pass lies off the last one, mm: in radius and along Z. */
      readonly awayX: number;
      readonly awayZ: number;
      readonly passes: number;
      readonly allowanceX: number;
      readonly allowanceZ: number;
      readonly start: { readonly X: number; readonly Z: number };
      readonly feed: number;
    }
  | {
      readonly kind: 'finish-contour';
      readonly contour: readonly ContourBlock[];
      readonly start: { readonly X: number; readonly Z: number };
      readonly feed: number;
      readonly side: 'left' | 'right' | null;
      readonly noseRadius: number;
    }
  | {
      readonly kind: 'thread';
      /** Where the passes start: the cycle's start point. */
      readonly start: { readonly X: number; readonly Z: number };
      /** End of the last pass. */
      readonly end: { readonly X: number; readonly Z: number };
      /** Height from the crest to the root, first and least depth, left for the last pass, mm. */
      readonly height: number;
      readonly first: number;
      readonly least: number;
      readonly finish: number;
      readonly springPasses: number;
      /** Included angle along which the infeed runs, degrees; 0 straight. */
      readonly angle: number;
      readonly lead: number;
      /** Radius at the end less that at the start. */
      readonly taper: number;
    }
  | {
      readonly kind: 'groove-pecks';
      /** Which way the plunges run. */
      readonly along: 'x' | 'z';
      /** Where the first plunge begins; and the depth of all, at the place of the last one. */
      readonly start: { readonly X: number; readonly Z: number };
      readonly end: { readonly X: number; readonly Z: number };
      /** Greatest peck, from plunge to plunge, and the way back after a peck, mm. */
      readonly peck: number;
      readonly step: number;
      readonly back: number;
      readonly feed: number;
    }
  | {
      readonly kind: 'tap';
      /** Z of the start, and of the end. */
      readonly start: number;
      readonly depth: number;
      readonly lead: number;
    }
  | {
      readonly kind: 'thread-passes';
      /** Where each pass starts, and where it ends along Z. */
      readonly start: { readonly X: number; readonly Z: number };
      readonly endZ: number;
      /** Radius at the end of each pass. */
      readonly passes: readonly number[];
      readonly lead: number;
      /** Radius at the end less that at the start. */
      readonly taper: number;
    }
  | {
      readonly kind: 'peck';
      /** How far the drill comes back after each peck, to break chips; null = out of the hole. */
      readonly back: number | null;
      readonly start: number;
      readonly clearance: number;
      readonly depth: number;
      readonly peck: number;
      readonly feed: number;
      readonly dwell: number;
    };

export type ContourBlock =
  /** `feed`, per turn, where it differs from that of the moves it takes the place of. */
  | { readonly kind: 'line'; readonly X: number; readonly Z: number; readonly feed?: number }
  | {
      readonly kind: 'arc';
      readonly X: number;
      readonly Z: number;
      readonly centreX: number;
      readonly centreZ: number;
      readonly clockwise: boolean;
      readonly feed?: number;
    };

interface Common {
  /** Operation that the event belongs to. */
  readonly op: string;
  readonly purpose: Purpose;
}

export type MotionEvent = Common &
  (
    | { readonly kind: 'rapid'; readonly to: Position }
    | { readonly kind: 'feed'; readonly to: Position; readonly feed: Feed }
    | {
        readonly kind: 'arc';
        readonly to: Position;
        readonly centre: Position;
        readonly clockwise: boolean;
        readonly plane: 'ZX' | 'XY' | 'YZ';
        readonly feed: Feed;
      }
    | {
        readonly kind: 'thread';
        readonly to: Position;
        readonly lead: number;
        /** Degrees by which the thread starts later than the first one. */
        readonly startAngle: number;
        /** The thread's crest from its beginning to its end (Z and radius), where the plan knows it: metal beyond it is not the thread's. */
        readonly crest?: readonly [Position, Position];
      }
    | { readonly kind: 'dwell'; readonly seconds: number }
    | {
        readonly kind: 'spindle';
        readonly spindle: string;
        readonly direction: 'forward' | 'reverse' | 'stop';
        readonly speed: SpindleSpeed;
      }
    | {
        readonly kind: 'tool';
        readonly carrier: string;
        readonly station: number;
        readonly offset: number;
        readonly tool: string;
      }
    /** To the axes' own reference places, from wherever the slide stands. */
    | { readonly kind: 'home'; readonly axes: readonly AxisName[] }
    /** A spindle goes along its slide: machine Z of its chuck face; rapid without a feed (mm/min), `limited` in its force. */
    | {
        readonly kind: 'slide';
        readonly spindle: string;
        readonly to: number;
        readonly feed: number | null;
        readonly limited: boolean;
      }
    /** The second spindle follows the first in speed and angle, or no longer does. */
    | { readonly kind: 'synchronise'; readonly leader: string; readonly follower: string; readonly on: boolean }
    | { readonly kind: 'stop'; readonly optional: boolean }
    /** A line that the operator reads; nothing moves. */
    | { readonly kind: 'remark'; readonly text: string }
    /**
     * Everything stops, and the work is held anew by hand: the program ends here and another one begins, or it stops until
     * that is done. All of `channels` come to it.
     */
    | {
        readonly kind: 'reload';
        readonly holding: string;
        readonly ends: boolean;
        readonly channels: readonly string[];
      }
    /**
     * The zero that words count from. Places of events always count from the holding's zero: `shift` says where along Z the
     * words' zero lies from there (0 when left out); `local` that the program moves it there itself.
     */
    | { readonly kind: 'work-offset'; readonly code: string; readonly shift?: number; readonly local?: boolean }
    | { readonly kind: 'coolant'; readonly on: boolean }
    | { readonly kind: 'wait'; readonly mark: number; readonly channels: readonly string[] }
    | { readonly kind: 'device'; readonly device: string; readonly action: string }
    | { readonly kind: 'clamp'; readonly axis: AxisName; readonly on: boolean }
    | {
        readonly kind: 'compensation';
        readonly side: 'left' | 'right' | 'off';
        readonly noseRadius: number;
        readonly tipNumber: number /** Contour blocks that take the place of the moves up to 'off'. */;
        readonly contour: readonly ContourBlock[];
      }
    | { readonly kind: 'cycle'; readonly cycle: CycleSpec }
    | { readonly kind: 'cycle-end' }
  );

export interface ChannelProgram {
  readonly channel: string;
  readonly events: readonly MotionEvent[];
}

/** The one language between operations, timing, simulation, checks, posts and the reader. */
export interface MotionProgram {
  readonly channels: readonly ChannelProgram[];
}

/** Moves that change the tip's place. */
export type MoveEvent = Extract<MotionEvent, { kind: 'rapid' | 'feed' | 'arc' | 'thread' }>;
export const isMove = (e: MotionEvent): e is MoveEvent =>
  e.kind === 'rapid' || e.kind === 'feed' || e.kind === 'arc' || e.kind === 'thread';

/** Annotations between moves do not stop the axes. */
export const isAnnotation = (e: MotionEvent): boolean =>
  e.kind === 'compensation' || e.kind === 'cycle' || e.kind === 'cycle-end';
