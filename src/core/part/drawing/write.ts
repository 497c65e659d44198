import { arcRadius, arcSweep, boundsOfCurves, type Curve, degrees } from '../../geometry';
import type { Part } from '../contour';

export interface WrittenLayer {
  readonly name: string;
  readonly curves: readonly Curve[];
}

/** The contours of a part as layers to write; empty ones are left out. */
export const layersOfPart = (part: Pick<Part, 'outer' | 'inner' | 'back'>): WrittenLayer[] =>
  (['outer', 'inner', 'back'] as const)
    .map((side) => ({ name: side.toUpperCase(), curves: part[side].map((e) => e.curve) }))
    .filter((l) => l.curves.length > 0);

const n = (v: number): string => String(Math.round(v * 1e9) / 1e9);

/** DXF text (release 12, mm) with lines and arcs as they are, Z along X. */
export const writeDxf = (layers: readonly WrittenLayer[]): string => {
  const out = [
    '0',
    'SECTION',
    '2',
    'HEADER',
    '9',
    '$ACADVER',
    '1',
    'AC1009',
    '9',
    '$INSUNITS',
    '70',
    '4',
    '0',
    'ENDSEC',
    '0',
    'SECTION',
    '2',
    'ENTITIES',
  ];
  for (const { name, curves } of layers)
    for (const c of curves) {
      if (c.kind === 'line')
        out.push('0', 'LINE', '8', name, '10', n(c.from.x), '20', n(c.from.y), '11', n(c.to.x), '21', n(c.to.y));
      else {
        const a = degrees(Math.atan2(c.from.y - c.centre.y, c.from.x - c.centre.x));
        const b = degrees(Math.atan2(c.to.y - c.centre.y, c.to.x - c.centre.x));
        out.push(
          '0',
          'ARC',
          '8',
          name,
          '10',
          n(c.centre.x),
          '20',
          n(c.centre.y),
          '40',
          n(arcRadius(c)),
          '50',
          String(c.clockwise ? b : a),
          '51',
          String(c.clockwise ? a : b),
        );
      }
    }
  return [...out, '0', 'ENDSEC', '0', 'EOF', ''].join('\n');
};

/** SVG of a contour, 1 unit = 1 mm, axis horizontal, arcs as arcs; the mirrored half is drawn thin. */
export const writeSvg = (layers: readonly WrittenLayer[]): string => {
  const all = layers.flatMap((l) => l.curves);
  const b = boundsOfCurves(all);
  const path = (curves: readonly Curve[], sign: 1 | -1): string =>
    curves
      .map((c) => {
        const from = `M${n(c.from.x)} ${n(-sign * c.from.y)}`;
        if (c.kind === 'line') return `${from}L${n(c.to.x)} ${n(-sign * c.to.y)}`;
        const sweep = c.clockwise === (sign === 1) ? 1 : 0;
        return `${from}A${n(arcRadius(c))} ${n(arcRadius(c))} 0 ${Math.abs(arcSweep(c)) > Math.PI ? 1 : 0} ${sweep} ${n(c.to.x)} ${n(-sign * c.to.y)}`;
      })
      .join('');
  const margin = 3;
  const view = `${n(b.minX - margin)} ${n(-b.maxY - margin)} ${n(b.maxX - b.minX + 2 * margin)} ${n(2 * b.maxY + 2 * margin)}`;
  const groups = layers
    .map(
      (l) =>
        `<g id="${l.name}"><path d="${path(l.curves, 1)}" stroke-width="0.25"/><path d="${path(l.curves, -1)}" stroke-width="0.1"/></g>`,
    )
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${view}" width="${n(b.maxX - b.minX + 2 * margin)}mm" height="${n(2 * b.maxY + 2 * margin)}mm"><g fill="none" stroke="#1F2A30">${groups}<path d="M${n(b.minX - margin)} 0H${n(b.maxX + margin)}" stroke-width="0.1" stroke-dasharray="4 1 1 1"/></g></svg>\n`;
};
