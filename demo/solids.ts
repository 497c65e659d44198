/** Writes demo/solids/*.step: the seven demo parts as solids, from their dimensions. Run: npm run demo:solids */
import { readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { draw, drawPolysides, drawRectangle, makeCylinder, type Shape3D } from 'replicad';
import { buildPart, type PartDocument, PartSchema } from '../src/core/part';
import { readJobText } from '../src/core/plan';
import { loadKernel } from '../src/solid/kernel';
import { revolveSection, stepText } from '../src/solid/revolve';

const DATE = '2026-11-01T08:00:00';
const out = (name: string): string => fileURLToPath(new URL(`solids/${name}.step`, import.meta.url));

type Corner = ['chamfer' | 'fillet', number];
/** Line to ⌀ and Z, or arc to ⌀ and Z with a radius (negative: clockwise with Z to the right and X up). */
type Step = readonly [diameter: number, z: number, shape?: Corner | number];

const rows = (prefix: string, start: readonly [number, number], steps: readonly Step[]) => ({
  start: { diameter: start[0], z: start[1] },
  rows: steps.map(([diameter, z, shape], i) => {
    const end = { id: `${prefix}${i + 1}`, diameter, z };
    return typeof shape === 'number'
      ? { ...end, kind: 'arc', radius: Math.abs(shape), clockwise: shape < 0, corner: null }
      : { ...end, kind: 'line', corner: shape ? { kind: shape[0], size: shape[1] } : null };
  }),
});

const turned = (
  outer: ReturnType<typeof rows>,
  inner: ReturnType<typeof rows> | null = null,
  back: ReturnType<typeof rows> | null = null,
): Shape3D => {
  const document: PartDocument = PartSchema.parse({ outer, inner, back });
  const part = buildPart(document);
  if (part.problems.length > 0) throw new Error(`${outer.start.diameter}: ${JSON.stringify(part.problems)}`);
  return revolveSection(part.boundary);
};

const rad = (degrees: number): number => (degrees * Math.PI) / 180;
/** A drill from outside toward the axis at an angle about it. */
const radialDrill = (diameter: number, z: number, angle: number, from: number, depth: number): Shape3D => {
  const d: [number, number, number] = [Math.cos(rad(angle)), Math.sin(rad(angle)), 0];
  return makeCylinder(diameter / 2, depth, [d[0] * from, d[1] * from, z], [-d[0], -d[1], 0]) as Shape3D;
};
const axialDrill = (diameter: number, circle: number, angle: number, z: number, depth: number): Shape3D =>
  makeCylinder(
    diameter / 2,
    depth,
    [(Math.cos(rad(angle)) * circle) / 2, (Math.sin(rad(angle)) * circle) / 2, z],
    [0, 0, -1],
  ) as Shape3D;

/** LM-101: ⌀60 × 22 with two round-belt grooves and a V groove on the rim, face recess, hub, bore. */
export const whorlPulley = (revision: 'A' | 'B'): Shape3D => {
  const rim = revision === 'A' ? 60 : 58;
  const vDepth = 4;
  const vHalf = vDepth * Math.tan(rad(30));
  const v = revision === 'A' ? -18.3 : -18.6;
  const large = -10.2;
  return turned(
    rows(
      'o',
      [12, 0],
      [
        [26, 0, ['chamfer', 0.5]],
        [26, -1],
        [34, -1],
        [34, -8, ['fillet', 0.5]],
        [46, -8, ['fillet', 0.5]],
        [46, -1],
        [rim, -1, ['chamfer', 0.3]],
        ...(revision === 'A'
          ? ([
              [60, -2.2],
              [60, -7.2, -2.5],
            ] as Step[])
          : []),
        [rim, large + 1.5],
        [rim, large - 5.5, -3.5],
        [rim, v + vHalf],
        [rim - 2 * vDepth, v, ['fillet', 0.4]],
        [rim, v - vHalf],
        [rim, -22, ['chamfer', 0.3]],
        [12, -22],
      ],
    ),
    rows('i', [12, 0], [[12, -22]]),
  );
};

/** LM-140: ⌀28 × 610, journals ⌀20, crowned middle, relief groove, M16 × 1.5, cross hole, centre hole. */
const flyerShaft = (): Shape3D =>
  turned(
    rows(
      'o',
      [5.3, 0],
      [
        [15.85, 0, ['chamfer', 1]],
        [15.85, -26],
        [13.7, -26 - 1.075 / Math.tan(rad(30)), ['fillet', 0.8]],
        [13.7, -31.2, ['fillet', 0.8]],
        [20, -31.2, ['chamfer', 0.5]],
        [20, -90],
        [26, -90, ['chamfer', 0.5]],
        [26, -150],
        [26, -450, 11251],
        [26, -550],
        [20, -550],
        [20, -560],
        [19.5, -560],
        [19.5, -562],
        [20, -562],
        [20, -610, ['chamfer', 1]],
        [0, -610],
      ],
    ),
    rows(
      'i',
      [5.3, 0],
      [
        [2.5, -1.4 / Math.tan(rad(30))],
        [2.5, -5],
        [0, -5 - 1.25 / Math.tan(rad(60))],
      ],
    ),
  ).cut(radialDrill(4, -75, 0, 15, 30));

/** LM-207: ⌀6 × 52 pin with ball end, 8° taper, clip groove, journal, deep hole from the back, oil hole, square drive. */
const pivotPin = (): Shape3D => {
  const ball = 2.9;
  // the ball runs into the taper where both have one direction
  const slope = rad(8);
  const zTouch = -ball + ball * Math.sin(slope) * -1;
  const rTouch = ball * Math.cos(slope);
  const taperEnd = zTouch - (3 - rTouch) / Math.tan(slope);
  const body = turned(
    rows(
      'o',
      [0, 0],
      [
        [2 * rTouch, -ball + ball * Math.sin(slope), ball],
        [6, taperEnd + 2 * ball * Math.sin(slope)],
        [6, -14],
        [5, -14],
        [5, -14.9],
        [6, -14.9],
        [6, -20],
        [5, -20],
        [5, -40],
        [6, -40],
        [6, -52, ['chamfer', 0.3]],
        [2, -52],
      ],
    ),
    null,
    rows(
      'b',
      [2, -52],
      [
        [2, -22],
        [0, -22 + 1 / Math.tan(rad(59))],
      ],
    ),
  );
  const square = drawRectangle(20, 20).sketchOnPlane('XY', -52).extrude(8) as Shape3D;
  const core = drawRectangle(4, 4).sketchOnPlane('XY', -52).extrude(8) as Shape3D;
  return body.cut(square.cut(core)).cut(radialDrill(1.5, -30, 0, 3.5, 3.5));
};

/** LM-212: ⌀48 × 64 bushing with inside groove and thread bore, hexagon 36, six radial ports. */
const orificeBushing = (): Shape3D => {
  let body = turned(
    rows(
      'o',
      [30.5, 0],
      [
        [34, 0, ['chamfer', 1]],
        [34, -12],
        [38, -12, ['chamfer', 0.5]],
        [38, -30],
        [41, -30, ['chamfer', 1]],
        [41, -46],
        [48, -46, ['chamfer', 0.5]],
        [48, -64, ['chamfer', 0.5]],
        [25, -64],
      ],
    ),
    rows(
      'i',
      [30.5, 0],
      [
        [28.5, -1],
        [28.5, -16],
        [25, -16],
        [25, -34],
        [29, -34],
        [29, -38],
        [25, -38],
        [25, -64],
      ],
    ),
  );
  const ring = makeCylinder(30, 16, [0, 0, -46], [0, 0, 1]) as Shape3D;
  const hexagon = drawPolysides(18 / Math.cos(rad(30)), 6)
    .sketchOnPlane('XY', -46)
    .extrude(16) as Shape3D;
  body = body.cut(ring.cut(hexagon));
  for (let i = 0; i < 6; i++) body = body.cut(radialDrill(5, -22, 60 * i, 25, 14));
  return body;
};

/** LM-233: pear-shaped ferrule ⌀54 × 90 with a deep waist, socket ⌀18, three ⌀4 holes at 35°. */
const ferrule = (): Shape3D => {
  let body = draw([9, 0])
    .lineTo([13, 0])
    .smoothSplineTo([11, -16], { startTangent: [-0.3, -1], endTangent: [0, -1] })
    .smoothSplineTo([27, -62], { startTangent: [0, -1], endTangent: [0, -1] })
    .smoothSplineTo([15, -90], { startTangent: [0, -1], endTangent: [-0.7, -1] })
    .lineTo([0, -90])
    .lineTo([0, -45.4])
    .lineTo([9, -40])
    .close()
    .sketchOnPlane('XZ')
    .revolve([0, 0, 1], { origin: [0, 0, 0] }) as Shape3D;
  for (let i = 0; i < 3; i++) {
    const a = rad(120 * i);
    const tilt = rad(35);
    const d: [number, number, number] = [-Math.cos(a) * Math.cos(tilt), -Math.sin(a) * Math.cos(tilt), Math.sin(tilt)];
    body = body.cut(makeCylinder(2, 40, [Math.cos(a) * 30, Math.sin(a) * 30, -50], d) as Shape3D);
  }
  return body;
};

/** LM-260: ⌀96 × 18 disc with five windows, ten rim holes, bored hub, rebate on the back. */
const crankDisc = (): Shape3D => {
  let body = turned(
    rows(
      'o',
      [20, 0],
      [
        [34, 0, ['chamfer', 0.5]],
        [34, -3],
        [96, -3, ['chamfer', 0.5]],
        [96, -18, ['chamfer', 0.5]],
        [80, -18],
        [80, -14, ['fillet', 1]],
        [40, -14],
        [40, -18],
        [20, -18],
      ],
    ),
    rows('i', [20, 0], [[20, -18]]),
  );
  for (let i = 0; i < 5; i++) {
    const at = (r: number, a: number): [number, number] => [
      r * Math.cos(rad(a + 72 * i)),
      r * Math.sin(rad(a + 72 * i)),
    ];
    const window = draw(at(24, -22))
      .lineTo(at(36, -24))
      .threePointsArcTo(at(36, 24), at(36, 0))
      .lineTo(at(24, 22))
      .threePointsArcTo(at(24, -22), at(24, 0))
      .close()
      .fillet(3);
    body = body.cut(window.sketchOnPlane('XY', -20).extrude(30) as Shape3D);
  }
  for (let i = 0; i < 10; i++) body = body.cut(axialDrill(5, 88, 36 * i + 18, 5, 30));
  return body;
};

const bobbinCollar = (): Shape3D => {
  const read = readJobText(readFileSync(fileURLToPath(new URL('jobs/LM-155.spindle.json', import.meta.url)), 'utf8'));
  if (!read.ok) throw new Error('LM-155 cannot be read');
  return revolveSection(buildPart(read.job.part).boundary);
};

const parts: readonly (readonly [string, string, () => Shape3D])[] = [
  ['LM-101', 'LM-101 A Whorl pulley', () => whorlPulley('A')],
  ['LM-101-B', 'LM-101 B Whorl pulley', () => whorlPulley('B')],
  ['LM-140', 'LM-140 Flyer shaft', flyerShaft],
  ['LM-155', 'LM-155 Bobbin collar', bobbinCollar],
  ['LM-207', 'LM-207 Treadle pivot pin', pivotPin],
  ['LM-212', 'LM-212 Orifice bushing', orificeBushing],
  ['LM-233', 'LM-233 Distaff ferrule', ferrule],
  ['LM-260', 'LM-260 Crank disc', crankDisc],
];

const wasm = createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm');
await loadKernel({ bytes: readFileSync(wasm) });
for (const [name, title, make] of parts) writeFileSync(out(name), await stepText(make(), title, DATE));
