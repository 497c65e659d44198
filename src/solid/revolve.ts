import { draw, type Shape3D } from 'replicad';
import { type Curve, distance, pointAt } from '../core/geometry';

/**
 * The solid of a closed half-section (z along x, r along y) turned about Z, in mm, its zero at the origin and its front
 * toward +Z. The kernel must be loaded.
 */
export const revolveSection = (boundary: readonly Curve[]): Shape3D => {
  const first = boundary[0].from;
  let pen = draw([first.y, first.x]);
  boundary.forEach((c, i) => {
    const last = i === boundary.length - 1;
    if (c.kind === 'line') {
      if (!last) pen = pen.lineTo([c.to.y, c.to.x]);
      else if (distance(c.to, first) > 1e-9) pen = pen.lineTo([c.to.y, c.to.x]);
    } else {
      const middle = pointAt(c, 0.5);
      pen = pen.threePointsArcTo([c.to.y, c.to.x], [middle.y, middle.x]);
    }
  });
  return pen
    .close()
    .sketchOnPlane('XZ')
    .revolve([0, 0, 1], { origin: [0, 0, 0] }) as Shape3D;
};

/** STEP text (AP214) of a solid with the part's name in its head and product. */
export const stepText = async (solid: Shape3D, name: string, date: string): Promise<string> => {
  const safe = [...name]
    .map((c) => (c >= ' ' && c <= '~' && c !== "'" && c !== '\\' ? c : '-'))
    .join('')
    .slice(0, 80);
  const raw = await solid.blobSTEP().text();
  const data = raw.indexOf('DATA;');
  const head = [
    'ISO-10303-21;',
    'HEADER;',
    "FILE_DESCRIPTION(('solid part'),'2;1');",
    `FILE_NAME('${safe}','${date}',(''),(''),'','Lively Spindle','');`,
    "FILE_SCHEMA(('AUTOMOTIVE_DESIGN { 1 0 10303 214 1 1 1 1 }'));",
    'ENDSEC;',
    '',
  ].join('\n');
  return head + raw.slice(data).replace(/PRODUCT\('[^']*',\s*'[^']*'/g, `PRODUCT('${safe}','${safe}'`);
};
