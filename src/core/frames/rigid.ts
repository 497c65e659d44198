import { add3, cross3, dot3, scale3, unit3, type Vec3 } from '../geometry';

/** A rigid motion of space: turned by the rows of `turn`, then moved by `move`, mm. */
export interface Rigid {
  readonly turn: readonly [Vec3, Vec3, Vec3];
  readonly move: Vec3;
}

export const STILL: Rigid = {
  turn: [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ],
  move: [0, 0, 0],
};

export const translation = (by: Vec3): Rigid => ({ turn: STILL.turn, move: by });

/** A direction carried along: turned, not moved. */
export const turnDirection = ({ turn }: Rigid, d: Vec3): Vec3 => [dot3(turn[0], d), dot3(turn[1], d), dot3(turn[2], d)];

export const carryPoint = (f: Rigid, p: Vec3): Vec3 => add3(turnDirection(f, p), f.move);

/** Right-handed turn by `degrees` about a line through `origin` (Rodrigues). */
export const rotationAbout = (origin: Vec3, direction: Vec3, degrees: number): Rigid => {
  const k = unit3(direction);
  const angle = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const carried = (v: Vec3): Vec3 => add3(add3(scale3(v, c), scale3(cross3(k, v), s)), scale3(k, dot3(k, v) * (1 - c)));
  const [x, y, z] = [carried([1, 0, 0]), carried([0, 1, 0]), carried([0, 0, 1])];
  const turn: Rigid['turn'] = [
    [x[0], y[0], z[0]],
    [x[1], y[1], z[1]],
    [x[2], y[2], z[2]],
  ];
  return { turn, move: add3(origin, scale3(turnDirection({ turn, move: origin }, origin), -1)) };
};

/** First `inner`, then `outer`. */
export const composed = (outer: Rigid, inner: Rigid): Rigid => {
  const columns = ([0, 1, 2] as const).map((i) => turnDirection(outer, inner.turn.map((row) => row[i]) as never));
  return {
    turn: ([0, 1, 2] as const).map((i) => columns.map((c) => c[i])) as never,
    move: carryPoint(outer, inner.move),
  };
};

/** The motion that undoes another one. */
export const inverse = ({ turn, move }: Rigid): Rigid => {
  const back = ([0, 1, 2] as const).map((i) => turn.map((row) => row[i])) as never as Rigid['turn'];
  return { turn: back, move: scale3(turnDirection({ turn: back, move }, move), -1) };
};

/** A frame whose Z runs along `z` from `origin`, with X as near to `towardX` as it can be: from its own coordinates outward. */
export const frameAlong = (origin: Vec3, z: Vec3, towardX: Vec3): Rigid => {
  const k = unit3(z);
  const x = unit3(add3(towardX, scale3(k, -dot3(k, towardX))));
  const y = cross3(k, x);
  return {
    turn: [
      [x[0], y[0], k[0]],
      [x[1], y[1], k[1]],
      [x[2], y[2], k[2]],
    ],
    move: origin,
  };
};
