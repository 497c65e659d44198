import type { Row } from '../../src/core/part';

/** A wavy outside contour of about `elements` pieces, straight or with arcs, for the bench: shallow grooves that tools reach. */
export const wavyRows = (elements: number, arcs: boolean): Row[] => {
  const rows: Row[] = [{ id: 'w0', kind: 'line', diameter: 40, z: 0, corner: null }];
  const waves = Math.floor((elements - 3) / 4);
  let z = 0;
  for (let i = 0; i < waves; i++) {
    const low = 36 - (i % 5) * 0.5;
    const add = (id: string, diameter: number, step: number, bent: boolean): void => {
      z = Math.round((z - step) * 1000) / 1000;
      rows.push(
        bent
          ? { id, kind: 'arc', diameter, z, radius: 8, clockwise: false, long: false, corner: null }
          : ({ id, kind: 'line', diameter, z, corner: null } as Row),
      );
    };
    add(`a${i}`, 40, 1.2, false);
    add(`b${i}`, low, 4, arcs);
    add(`c${i}`, low, 1.5, false);
    add(`d${i}`, 40, 1.2, false);
  }
  rows.push(
    { id: 'y', kind: 'line', diameter: 40, z: z - 2, corner: null },
    { id: 'x', kind: 'line', diameter: 0, z: z - 2, corner: null },
  );
  return rows;
};
