import type { Axis } from '../core/geometry';
import {
  type DrawingLayer,
  type Feature,
  type HalfSection,
  type ImportProblem,
  importDxf,
  importMesh,
  importProblem,
  type PartDocument,
  PLAIN_DRAWING,
  PLAIN_MESH,
  partFromDrawing,
  partFromHalf,
} from '../core/part';
import type { BroughtSolid, SolidMesh, Stage } from './bring';
import { forgetKernel, type Kernel } from './kernel';
import { FILE_LIMIT, type FileKind, PLAIN_WISH, tooLarge, type Wishes } from './wishes';

/** What came out of a file, the same for every kind; `part` is null when there is no profile. */
export interface Brought {
  readonly kind: FileKind;
  readonly part: PartDocument | null;
  readonly half: HalfSection | null;
  readonly features: readonly Feature[];
  readonly axis: Axis | null;
  readonly problems: readonly ImportProblem[];
  readonly mesh: SolidMesh | null;
  readonly solid: Pick<BroughtSolid, 'solids' | 'faces' | 'schema' | 'cuts'> | null;
  readonly layers: readonly DrawingLayer[];
  readonly times: Readonly<Record<string, number>>;
}

const NOTHING: Omit<Brought, 'kind' | 'problems'> = {
  part: null,
  half: null,
  features: [],
  axis: null,
  mesh: null,
  solid: null,
  layers: [],
  times: {},
};

/** A fault inside the kernel is no message of ours: it says nothing that a user could act on. */
const kernelFault = (error: unknown): ImportProblem =>
  importProblem(
    'kernel-fault',
    `The solid kernel cannot work with this file (${error instanceof Error ? error.message.slice(0, 80) : 'a fault inside it'}). Check the solid where it was drawn, heal it and export it again, or bring it in as DXF or STL.`,
  );

/** Reads a file of any kind into a part document. Never throws for bad content. The kernel is loaded only for STEP. */
export const bringFile = async (
  kind: FileKind,
  bytes: Uint8Array,
  wishes: Partial<Wishes>,
  kernel: () => Promise<Kernel>,
  onStage: (stage: Stage | 'kernel') => void = () => undefined,
): Promise<Brought> => {
  if (bytes.length > FILE_LIMIT) return { ...NOTHING, kind, problems: [tooLarge(kind, bytes.length)] };
  switch (kind) {
    case 'dxf': {
      onStage('reading');
      const d = importDxf(new TextDecoder('utf-8').decode(bytes), { ...PLAIN_DRAWING, ...wishes.dxf });
      const half = { outer: d.outer, inner: d.inner, back: d.back };
      const stuck = d.problems.some((p) => p.code === 'open' && p.severity === 'blocking');
      return {
        ...NOTHING,
        kind,
        half: d.outer.length > 0 ? half : null,
        part: stuck ? null : partFromDrawing(d),
        problems: d.problems,
        layers: d.layers,
      };
    }
    case 'stl': {
      onStage('section');
      const m = importMesh(bytes, { ...PLAIN_MESH, ...wishes.stl });
      const count = m.corners.length / 3;
      const mesh: SolidMesh | null =
        count === 0
          ? null
          : {
              positions: m.corners,
              normals: new Float32Array(0),
              triangles: Uint32Array.from({ length: count }, (_, i) => i),
              groups: [{ start: 0, count, face: 0 }],
              edges: new Float32Array(0),
              circles: [],
            };
      return {
        ...NOTHING,
        kind,
        half: m.half,
        part: m.half && partFromHalf(m.half),
        axis: m.axis,
        problems: m.problems,
        mesh,
      };
    }
    case 'step': {
      onStage('kernel');
      const oc = await kernel();
      // the kernel's library is large: it is loaded for a solid only
      const { bringSolid } = await import('./bring');
      let s: ReturnType<typeof bringSolid>;
      try {
        s = bringSolid(oc, new TextDecoder('utf-8').decode(bytes), { ...PLAIN_WISH, ...wishes.step }, onStage);
      } catch (error) {
        forgetKernel();
        return { ...NOTHING, kind, problems: [kernelFault(error)] };
      }
      const part = s.half && partFromHalf(s.half);
      return {
        ...NOTHING,
        kind,
        half: s.half,
        part: part && { ...part, ...(s.features.length > 0 ? { features: [...s.features] } : {}) },
        features: s.features,
        axis: s.axis,
        problems: s.problems,
        mesh: s.mesh,
        solid: { solids: s.solids, faces: s.faces, schema: s.schema, cuts: s.cuts },
        times: s.times,
      };
    }
    default:
      return kind satisfies never;
  }
};
