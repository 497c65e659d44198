import { facePlane, type Plane, radialDirection, radialPlane, tiltedPlane } from '../frames';
import { add3, scale3 } from '../geometry';
import type { Feature } from './feature';

/** The plane in which one copy of a milled feature lies, square to the way in which it is cut; null for what is turned. */
export const planeOfFeature = (f: Feature, copy = 0): Plane | null => {
  const angle = f.angles[copy % Math.max(1, f.angles.length)];
  if (angle === undefined) return null;
  const { front, back, outer } = f.place;
  const z = f.sizes.z ?? (front + back) / 2;
  switch (f.access) {
    case 'radial':
      return radialPlane(angle, f.sizes.height ?? outer / 2, z);
    case 'angled': {
      // the axis leans by so much from the part's; its mouth lies on the side from which it is cut
      const lean = 90 - (f.sizes.angle ?? 90);
      return tiltedPlane(angle, outer / 2, z, z >= (front + back) / 2 ? lean : -lean);
    }
    default: {
      const plane = facePlane(f.access === 'back' ? back : front, f.access === 'back' ? 'back' : 'front', angle);
      const out = scale3(radialDirection(angle), (f.sizes.circle ?? 0) / 2);
      return { ...plane, move: add3(plane.move, out) };
    }
  }
};
