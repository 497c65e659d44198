import { type Region, regionBounds } from '../geometry';
import { contactLength, type Holding, jawLength, pieceSeat } from '../holding';

/** Least share of the grip over which jaws have to touch a piece. */
const LEAST_CONTACT = 0.5;

/** A grip shorter than this is not offered, mm. */
export const LEAST_GRIP = 3;

/** Grips are proposed in steps of this, mm. */
const STEP = 0.5;

/** Room that a nose leaves in the corner before a shoulder, mm: jaws stay clear of it. */
const CORNER = 1;

/** Length of work in the jaws that a diameter wants, mm. */
export const leastGrip = (diameter: number): number => Math.min(40, Math.max(8, diameter * 0.35));

/** Whether jaws that grip a piece so deep touch it over a good part of that. */
export const gripsWell = (holding: Holding, piece: Region, grip: number): boolean =>
  contactLength({ ...holding, grip }, piece) >= grip * LEAST_CONTACT;

/**
 * How deep to put a piece into its jaws, mm: on the first cylinder on which jaws can touch as long as its diameter wants, as
 * far as that cylinder and the jaws go; else the grip that touches longest. Null where jaws would stand in air however deep
 * it goes. `piece` lies as it is held, with its end in the jaws at its least x.
 */
export const bestGrip = (holding: Holding, piece: Region): number | null => {
  if (piece.length === 0) return null;
  const b = regionBounds(piece);
  // something has to stand out of the jaws
  const most = Math.min((b.maxX - b.minX) * 0.7, jawLength({ ...holding, grip: 0 }));
  let longest: Seated | null = null;
  let enough: Seated | null = null;
  for (let grip = LEAST_GRIP; grip <= most + 1e-9; grip += STEP) {
    const held = { ...holding, grip };
    const { radius } = pieceSeat(held, piece);
    if (enough && radius > enough.radius + 1e-6) break;
    // a shoulder right before the jaws: its corner is never as sharp as it is drawn
    if (longest && pieceSeat({ ...holding, grip: grip + CORNER }, piece).radius > radius + CORNER) continue;
    const contact = contactLength(held, piece);
    if (contact < grip * LEAST_CONTACT) continue;
    const seated = { grip, contact, radius };
    if (contact >= leastGrip(2 * radius) && (!enough || contact > enough.contact + 1e-6)) enough = seated;
    if (!longest || contact > longest.contact + 1e-6) longest = seated;
  }
  return (enough ?? longest)?.grip ?? null;
};

interface Seated {
  readonly grip: number;
  readonly contact: number;
  readonly radius: number;
}
