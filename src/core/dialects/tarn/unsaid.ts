import type { AxisName } from '../../machine';
import type { MotionEvent } from '../../motion';
import type { Dialect } from './data';

const AXES: readonly AxisName[] = ['X', 'Z', 'Y', 'C', 'B', 'A'];

/** Name of a device's action, or of an axis' brake, as a dialect's list of codes has it. */
export const deviceName = (e: Extract<MotionEvent, { kind: 'device' | 'clamp' }>): string =>
  e.kind === 'device' ? `${e.device} ${e.action}` : `${e.axis} ${e.on ? 'clamp' : 'free'}`;

/** What of an event a control has no words for, whatever stands beside it in the program; null where it has them. `main` is the spindle of the plain codes. */
export const unsaid = (e: MotionEvent, dialect: Dialect, main: string): string | null => {
  const { second } = dialect;
  switch (e.kind) {
    case 'rapid':
    case 'feed':
    case 'thread':
    case 'arc': {
      const axis = AXES.find((a) => e.to[a] !== undefined && !dialect.axes.includes(a));
      if (axis) return `a move of axis ${axis}`;
      return e.kind === 'arc' && e.plane !== 'ZX' ? `an arc in the plane ${e.plane}` : null;
    }
    case 'home': {
      const axis = e.axes.find((a) => a !== 'X' && a !== 'Z');
      return axis ? `axis ${axis} going home` : null;
    }
    case 'spindle':
      return e.spindle === main || e.spindle in dialect.spindleCodes ? null : `spindle ${e.spindle}`;
    case 'synchronise':
      return second?.spindle === e.follower ? null : `spindle ${e.follower} following ${e.leader}`;
    case 'slide':
      return second?.spindle === e.spindle ? null : `spindle ${e.spindle} moving along its slide`;
    case 'device':
    case 'clamp':
      return deviceName(e) in dialect.devices ? null : deviceName(e);
    default:
      return null;
  }
};
