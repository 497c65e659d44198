import {
  arcRadius,
  boundsOfCurves,
  type Curve,
  degrees,
  pathOfCurves,
  pathOfRegion,
  type Region,
  regionBounds,
} from '../../geometry';
import type { Part } from '../contour';

export interface WrittenLayer {
  readonly name: string;
  readonly curves: readonly Curve[];
  /** Closed polygons, such as stock. */
  readonly rings?: Region;
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
  for (const { name, curves, rings } of layers) {
    for (const ring of rings ?? []) {
      out.push('0', 'POLYLINE', '8', name, '66', '1', '70', '1');
      for (const p of ring) out.push('0', 'VERTEX', '8', name, '10', n(p.x), '20', n(p.y));
      out.push('0', 'SEQEND', '8', name);
    }
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
  }
  return [...out, '0', 'ENDSEC', '0', 'EOF', ''].join('\n');
};

/** SVG of a contour, 1 unit = 1 mm, axis horizontal, arcs as arcs; the mirrored half is drawn thin. */
export const writeSvg = (layers: readonly WrittenLayer[]): string => {
  const all = layers.flatMap((l) => l.curves);
  const b = boundsOfCurves(all);
  const margin = 3;
  const view = `${n(b.minX - margin)} ${n(-b.maxY - margin)} ${n(b.maxX - b.minX + 2 * margin)} ${n(2 * b.maxY + 2 * margin)}`;
  const groups = layers
    .map(
      (l) =>
        `<g id="${l.name}"><path d="${pathOfCurves(l.curves, { digits: 9, down: true })}" stroke-width="0.25"/><path d="${pathOfCurves(l.curves, { digits: 9 })}" stroke-width="0.1"/></g>`,
    )
    .join('');
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${view}" width="${n(b.maxX - b.minX + 2 * margin)}mm" height="${n(2 * b.maxY + 2 * margin)}mm"><g fill="none" stroke="#1F2A30">${groups}<path d="M${n(b.minX - margin)} 0H${n(b.maxX + margin)}" stroke-width="0.1" stroke-dasharray="4 1 1 1"/></g></svg>\n`;
};

/** SVG of a region such as stock, 1 unit = 1 mm, filled. */
export const writeRegionSvg = (region: Region): string => {
  const b = regionBounds(region);
  const view = `${n(b.minX - 1)} ${n(-b.maxY - 1)} ${n(b.maxX - b.minX + 2)} ${n(b.maxY + 2)}`;
  const path = pathOfRegion(region, { digits: 4, down: true });
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${view}"><path d="${path}" fill="#E9DDB8" stroke="#1F2A30" stroke-width="0.1"/></svg>\n`;
};
