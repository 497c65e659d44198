import { cast } from 'replicad';
import {
  type Axis,
  add3,
  boundsOfCurves,
  type Curve,
  chainArea,
  directionInFrame,
  type Frame3,
  frameOfAxis,
  line,
  mapCurve,
  point,
  scale3,
  subtract3,
  toCylinder,
  turnFrame,
  unit3,
  type Vec3,
} from '../core/geometry';
import {
  checkStepText,
  type Feature,
  type HalfSection,
  type ImportProblem,
  importProblem,
  splitHalfSection,
} from '../core/part';
import { type AxisChoice, findAxes } from './axis';
import { cutAtAngle } from './cut';
import { guarded, type Kernel, type KernelShape } from './kernel';
import { milledFeatures } from './milled';
import { explore, type FaceKind, readModel, type SolidModel } from './model';
import { silhouetteOf } from './silhouette';
import { PLAIN_WISH, type SolidWish } from './wishes';

export interface SolidEntry {
  readonly faces: number;
  readonly size: Vec3;
}

/** Triangles and edge lines in the part's frame: x along Z of the part, y and z square to it. */
export interface SolidMesh {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly triangles: Uint32Array;
  /** Face index of each stretch of triangles. */
  readonly groups: readonly { readonly start: number; readonly count: number; readonly face: number }[];
  /** Pairs of points, three numbers each. */
  readonly edges: Float32Array;
  /** Round edges beside the axis (holes, pockets), by centre and radius, each once. */
  readonly circles: readonly { readonly centre: Vec3; readonly axis: Vec3; readonly radius: number }[];
}

export interface BroughtSolid {
  /** The solids to choose from; empty when there is only one. */
  readonly solids: readonly SolidEntry[];
  readonly schema: string;
  /** Axis in the file's coordinates, its point at the part's zero. */
  readonly axis: Axis | null;
  readonly half: HalfSection | null;
  readonly features: readonly Feature[];
  readonly faces: readonly { readonly kind: FaceKind; readonly radius: number; readonly flat: boolean }[];
  readonly mesh: SolidMesh | null;
  readonly cuts: number;
  readonly problems: readonly ImportProblem[];
  /** Milliseconds of each stage, as measured. */
  readonly times: Readonly<Record<string, number>>;
}

export type Stage = 'reading' | 'faces' | 'section' | 'features' | 'mesh';

const explainOpen = (open: readonly { x: number; y: number }[]): ImportProblem =>
  importProblem(
    'open',
    `The solid does not close at Z${open[0].x.toFixed(3)} ⌀${(open[0].y * 2).toFixed(3)}: faces are missing there. Heal it where it was drawn, or cut it at another angle.`,
    {
      at: [open[0].x, open[0].y],
    },
  );

/** Reads a STEP text into the kernel's shape; null when it cannot. Lengths come back in mm whatever the file's unit. */
const readStep = (oc: Kernel, text: string): KernelShape | null => {
  const name = `part-${Math.round(performance.now() * 1000)}.step`;
  const fs = (oc as unknown as { FS: { writeFile(p: string, d: string): void; unlink(p: string): void } }).FS;
  fs.writeFile(`/${name}`, text);
  const reader = new oc.STEPControl_Reader();
  try {
    const status = reader.ReadFile(`/${name}`);
    if (String(status) !== 'IFSelect_RetDone') return null;
    reader.TransferRoots();
    return reader.NbShapes() > 0 ? reader.OneShape() : null;
  } finally {
    fs.unlink(`/${name}`);
    reader.delete();
  }
};

const scaled = (oc: Kernel, shape: KernelShape, factor: number): KernelShape => {
  if (Math.abs(factor - 1) < 1e-12) return shape;
  const move = new oc.gp_Trsf();
  move.SetScaleFactor(factor);
  const result = new oc.BRepBuilderAPI_Transform(shape, move, true, false).Shape();
  move.delete();
  return result;
};

const entryOf = (shape: KernelShape): SolidEntry => {
  const s = cast(shape as never) as unknown as { faces: unknown[]; boundingBox: { bounds: [Vec3, Vec3] } };
  const [low, high] = s.boundingBox.bounds;
  return { faces: s.faces.length, size: subtract3(high, low) };
};

const meshOf = (shape: KernelShape, frame: Frame3, model: SolidModel): SolidMesh => {
  const s = cast(shape as never) as unknown as {
    mesh(o: object): {
      vertices: number[];
      normals: number[];
      triangles: number[];
      faceGroups: { start: number; count: number; faceId: number }[];
    };
    meshEdges(o: object): { lines: number[] };
    boundingBox: { bounds: [Vec3, Vec3] };
  };
  const [low, high] = s.boundingBox.bounds;
  const tolerance = Math.max(0.005, Math.hypot(...subtract3(high, low)) / 4000);
  const m = s.mesh({ tolerance, angularTolerance: 0.15 });
  const e = s.meshEdges({ tolerance, angularTolerance: 0.15 });
  const turn = (source: ArrayLike<number>, moved: boolean): Float32Array => {
    const out = new Float32Array(source.length);
    for (let i = 0; i + 2 < source.length; i += 3) {
      const p: Vec3 = [source[i], source[i + 1], source[i + 2]];
      out.set(directionInFrame(frame, moved ? subtract3(p, frame.origin) : p), i);
    }
    return out;
  };

  return {
    positions: turn(m.vertices, true),
    normals: turn(m.normals, false),
    triangles: Uint32Array.from(m.triangles),
    groups: m.faceGroups.map((g, face) => ({ start: g.start, count: g.count, face })),
    edges: turn(e.lines, true),
    circles: circlesOf(model, frame),
  };
};

/** Round edges whose centre lies beside the axis, in the part's frame. */
const circlesOf = (model: SolidModel, frame: Frame3): SolidMesh['circles'] => {
  const seen = new Set<string>();
  return model.edges.flatMap(({ circle }) => {
    if (!circle) return [];
    const centre = directionInFrame(frame, subtract3(circle.centre, frame.origin));
    const key = [...centre, circle.radius].map((v) => Math.round(v * 1e4)).join();
    if (Math.hypot(centre[1], centre[2]) < 1e-4 || seen.has(key)) return [];
    seen.add(key);
    return [{ centre, axis: directionInFrame(frame, circle.axis), radius: circle.radius }];
  });
};

/** The loop that is the part: the one with most area. Others are told. */
const mainLoop = (loops: readonly (readonly Curve[])[]): { main: readonly Curve[]; others: number } => {
  const area = (l: readonly Curve[]): number => {
    const closing =
      Math.hypot(l[0].from.x - l[l.length - 1].to.x, l[0].from.y - l[l.length - 1].to.y) < 1e-4
        ? []
        : [line(l[l.length - 1].to, l[0].from)];
    return Math.abs(chainArea([...l, ...closing]));
  };
  const sorted = [...loops].sort((a, b) => area(b) - area(a));
  return { main: sorted[0], others: sorted.length - 1 };
};

/** Frame of the part: zero where the wish says, in the file's coordinates. */
const framed = (
  model: SolidModel,
  axis: Axis,
  loops: readonly (readonly Curve[])[],
  wish: SolidWish,
  first: Frame3,
): Frame3 => {
  let shift = boundsOfCurves(loops.flat()).maxX - wish.front;
  const face = wish.zeroFace === null ? undefined : model.faces[wish.zeroFace];
  if (face) shift = toCylinder(first, face.middle).z;
  return { ...first, origin: add3(first.origin, scale3(axis.direction, shift)) };
};

const moveLoop = (loop: readonly Curve[], dz: number): Curve[] =>
  loop.map((c) => mapCurve(c, (p) => point(clean(p.x - dz), p.y), false));
const clean = (v: number): number => (Math.abs(v) < 1e-12 ? 0 : v);

/**
 * A solid from STEP text to a turning profile with its features. Never throws for a bad file: what is wrong stands in
 * `problems`, and `half` is null when there is no profile. `onStage` hears what is being done.
 */
export const bringSolid = (
  oc: Kernel,
  text: string,
  wish: SolidWish = PLAIN_WISH,
  onStage: (stage: Stage) => void = () => undefined,
): BroughtSolid => {
  const times: Record<string, number> = {};
  let began = performance.now();
  const lap = (name: string): void => {
    times[name] = performance.now() - began;
    began = performance.now();
  };
  const problems: ImportProblem[] = [];
  let result: BroughtSolid = {
    solids: [],
    schema: 'unknown',
    axis: null,
    half: null,
    features: [],
    faces: [],
    mesh: null,
    cuts: 0,
    problems,
    times,
  };
  const checked = checkStepText(text);
  result = { ...result, schema: checked.schema };
  problems.push(...checked.problems);
  if (checked.problems.some((p) => p.severity === 'blocking')) return result;
  lap('check');
  onStage('reading');
  const shape = guarded('reading the STEP file', () => readStep(oc, text));
  lap('read');
  const raw = shape ? explore(oc, shape, 'SOLID') : [];
  if (raw.length === 0) {
    problems.push(
      importProblem(
        'no-solid',
        'The file holds no closed solid that can be built. Export the part as a solid (not surfaces) and bring that in.',
      ),
    );
    return result;
  }
  const solids = raw.map((s) => scaled(oc, s, wish.scale));
  result = { ...result, solids: raw.length > 1 ? solids.map(entryOf) : [] };
  const chosen = solids[Math.min(wish.solid, solids.length - 1)];
  onStage('faces');
  const model = readModel(oc, chosen);
  lap('faces');
  try {
    const axes = findAxes(model);
    const faces = model.faces.map((f) => ({ kind: f.kind, radius: f.radius, flat: f.kind === 'plane' }));
    result = {
      ...result,
      faces,
    };
    const picked = axisOfWish(model, axes, wish);
    if (!picked) {
      const kinds = model.faces.filter((f) => f.kind === 'plane').length;
      problems.push(
        importProblem(
          'no-axis',
          `No face of this solid turns about an axis (${model.faces.length} faces, ${kinds} of them flat), so it has no turning axis. Choose a face whose direction shall be the axis, or bring in a turned part.`,
        ),
      );
      return result;
    }
    const axis: Axis = wish.flip ? { point: picked.point, direction: scale3(picked.direction, -1) } : picked;
    const first = turnFrame(frameOfAxis(axis), (wish.turn * Math.PI) / 180);
    onStage('section');
    const angle = (wish.angle * Math.PI) / 180;
    const made = guarded('cutting the solid', () =>
      wish.section === 'cut'
        ? { ...cutAtAngle(oc, model, axis, first, angle), angles: [angle], outside: 0 }
        : silhouetteOf(oc, model, axis, first, angle),
    );
    lap('section');
    if (made.loops.length === 0) {
      problems.push(
        made.open.length > 0
          ? explainOpen(made.open)
          : importProblem('empty-section', 'The cut meets no metal. Choose another angle, or the silhouette.'),
      );
      return result;
    }
    if (made.open.length > 0) problems.push({ ...explainOpen(made.open), severity: 'attention' });
    if (made.outside > 1e-3)
      problems.push(
        importProblem(
          'rough-silhouette',
          `The silhouette may miss up to ${made.outside.toFixed(3)} mm of a free-form place. Compare it with the 3D view.`,
          {
            severity: 'attention',
          },
        ),
      );
    const frame = framed(model, axis, made.loops, wish, first);
    const shift = toCylinder(first, frame.origin).z;
    const loops = made.loops.map((l) => moveLoop(l, shift));
    const { main, others } = mainLoop(loops);
    if (others > 0)
      problems.push(
        importProblem(
          'more-loops',
          `The section falls into ${others + 1} pieces; the largest is taken. ${wish.section === 'cut' ? 'Take the silhouette, or cut at another angle.' : 'Closed cavities inside cannot be turned.'}`,
          {
            severity: 'attention',
          },
        ),
      );
    const half = splitHalfSection(main);
    const b = boundsOfCurves(half.outer);
    if (b.maxY > 400)
      problems.push(
        importProblem(
          'unit',
          `The part measures ⌀${(b.maxY * 2).toFixed(1)} × ${(b.maxX - b.minX).toFixed(1)} mm. If it should be ⌀${((b.maxY * 2) / 25.4).toFixed(2)}, the file names inches but holds millimetres: read it with a scale of 1/25.4.`,
          {
            severity: 'attention',
          },
        ),
      );
    else if (b.maxY < 0.4)
      problems.push(
        importProblem(
          'unit',
          `The part measures only ⌀${(b.maxY * 2).toFixed(3)}. If it should be ⌀${(b.maxY * 50.8).toFixed(2)}, the file names millimetres but holds inches: read it with a scale of 25.4.`,
          { severity: 'attention' },
        ),
      );
    onStage('features');
    const features = milledFeatures(model, axis, frame, main);
    lap('features');
    onStage('mesh');
    const mesh = guarded('meshing the solid', () => meshOf(chosen, frame, model));
    lap('mesh');
    return {
      ...result,
      axis: { point: frame.origin, direction: axis.direction },
      half,
      features,
      mesh,
      cuts: made.angles.length,
      problems,
      times,
    };
  } finally {
    model.release();
  }
};

const axisOfWish = (model: SolidModel, axes: readonly AxisChoice[], wish: SolidWish): Axis | null => {
  const face = wish.axisFace === null ? undefined : model.faces[wish.axisFace];
  if (!face?.axis) return axes[0]?.axis ?? null;
  const known = axes.find((a) => a.faces.includes(face.index));
  return known?.axis ?? { point: face.axis.point, direction: unit3(face.axis.direction) };
};
