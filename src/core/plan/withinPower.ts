import { drillLoad } from '../cutting';
import { powerAt, type Spindle } from '../machine';
import type { Job } from './document';

/** Share of a spindle's power that starting values and remedies use. */
const USED = 0.9;
/** A drill is slowed down to this share of its speed before it is fed less: a small feed breaks no chips. */
const SLOWEST = 0.7;
const STEP = 10;

/** Power grows with this power of the feed less. */
export const feedWithin = (feed: number, share: number, mc: number): number =>
  Math.floor(feed * (USED / share) ** (1 / (1 - mc)) * 1000) / 1000;

/** The depth of a cut that asks for the power there is: power grows with the depth. */
export const depthWithin = (depth: number, share: number): number => Math.floor(((depth * USED) / share) * 100) / 100;

/**
 * Speed (rev/min) and feed (mm/rev) of a drill that the spindle can drive: as they are where it can; else slower as far as
 * that helps, then with less feed.
 */
export const drillWithinPower = (
  spindle: Pick<Spindle, 'power' | 'torque' | 'efficiency'>,
  { kc11, mc }: Pick<Job['material'], 'kc11' | 'mc'>,
  drill: { readonly diameter: number; readonly pointAngle: number },
  asked: { readonly speed: number; readonly feed: number },
): { readonly speed: number; readonly feed: number } => {
  const { diameter, pointAngle } = drill;
  const { feed } = asked;
  const share = (speed: number): number => {
    const surfaceSpeed = (Math.PI * diameter * speed) / 1000;
    const { power } = drillLoad({ kc11, mc, diameter, pointAngle, feed, surfaceSpeed });
    return power / spindle.efficiency / powerAt(spindle, speed);
  };
  const slowest = asked.speed * SLOWEST;
  for (let speed = asked.speed; speed >= slowest; speed -= STEP) if (share(speed) <= USED) return { speed, feed };
  // as slow as helps: where the torque is at its end, slower is no easier
  const speed = share(slowest) < share(asked.speed) - 1e-6 ? Math.ceil(slowest / STEP) * STEP : asked.speed;
  return { speed, feed: Math.max(0.005, feedWithin(feed, share(speed), mc)) };
};
