import { onceFor } from '../geometry';
import type { Carrier, Machine, Spindle } from './machine';
import { ownReach } from './reach';

/** Seconds for a straight run of `size` with speed limit v, ends v0 and v1, acceleration a (one unit of length throughout). */
export const trapezoidTime = (size: number, v: number, v0: number, v1: number, a: number): number => {
  if (size <= 0) return 0;
  const top = Math.min(v, Math.sqrt(a * size + (v0 * v0 + v1 * v1) / 2));
  const start = Math.min(v0, top);
  const end = Math.min(v1, top);
  const ramps = (top * top - start * start) / (2 * a) + (top * top - end * end) / (2 * a);
  return (top - start) / a + (top - end) / a + Math.max(0, size - ramps) / top;
};

const changes = onceFor((_: Machine) => new Map<string, number>());

/** Seconds until another station's tool is at work; none where the same one stays, or where it is not known which one stood there. */
export const indexTime = (machine: Machine, carrier: Carrier, from: number | null, to: number): number => {
  if (from === null || from === to) return 0;
  const { index } = carrier;
  if (index.kind === 'magazine') return index.change;
  if (index.kind === 'turret') {
    const away = Math.abs(to - from);
    const steps = Math.min(away, carrier.stations - away);
    return steps > 0 ? index.fixed + steps * index.perStation : 0;
  }
  const known = changes(machine);
  const key = `${carrier.id} ${from} ${to}`;
  const found = known.get(key);
  if (found !== undefined) return found;
  const [a, b] = [carrier.places[from] ?? [0, 0, 0], carrier.places[to] ?? [0, 0, 0]];
  const axes = ownReach(machine, carrier.id)?.axes ?? {};
  const seconds = Math.max(
    0,
    ...(['X', 'Y', 'Z'] as const).map((axis, i) => {
      const drive = axes[axis];
      const way = Math.abs(a[i] - b[i]);
      return drive && way > 0 ? trapezoidTime(way, drive.rapid / 60, 0, 0, drive.acceleration) : 0;
    }),
  );
  known.set(key, seconds);
  return seconds;
};

/** Power in kW that a spindle's motor has at a speed, rev/min: its torque sets it below the base speed. */
export const powerAt = (spindle: Pick<Spindle, 'power' | 'torque'>, speed: number): number =>
  spindle.torque === null ? spindle.power : Math.min(spindle.power, (spindle.torque * 2 * Math.PI * speed) / 60_000);
