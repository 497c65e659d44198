import type { z } from 'zod';
import {
  type DrawingWish,
  type ImportProblem,
  importProblem,
  type MeshWish,
  PLAIN_DRAWING,
  PLAIN_MESH,
  type SourceSchema,
} from '../core/part';

/** What the user may say about how a solid becomes a turning profile. */
export interface SolidWish {
  /** Which solid of the file, from 0. */
  readonly solid: number;
  /** Another axis than the one found: a face's own (by index). */
  readonly axisFace: number | null;
  /** Front and back change places. */
  readonly flip: boolean;
  /** The part turned about its axis by this, degrees: where its angle 0 lies. */
  readonly turn: number;
  readonly section: 'silhouette' | 'cut';
  /** Angle of the plain cut, degrees. */
  readonly angle: number;
  /** Z of the front-most face; 0 puts the zero there. */
  readonly front: number;
  /** A face square to the axis that the zero moves to; wins over `front`. */
  readonly zeroFace: number | null;
  /** Factor on all lengths, for a file with the wrong unit. */
  readonly scale: number;
}

export const PLAIN_WISH: SolidWish = {
  solid: 0,
  axisFace: null,
  flip: false,
  turn: 0,
  section: 'silhouette',
  angle: 0,
  front: 0,
  zeroFace: null,
  scale: 1,
};

export type FileKind = z.infer<typeof SourceSchema>['kind'];

/** Choices for a file, by its kind; what is left out is as usual. */
export interface Wishes {
  readonly step: SolidWish;
  readonly stl: MeshWish;
  readonly dxf: DrawingWish;
}
export const PLAIN_WISHES: Wishes = { step: PLAIN_WISH, stl: PLAIN_MESH, dxf: PLAIN_DRAWING };

/** Largest file that is read, bytes. */
export const FILE_LIMIT = 32 * 1024 * 1024;

export const kindOfFile = (name: string): FileKind | null =>
  /\.(step|stp|p21)$/i.test(name) ? 'step' : /\.stl$/i.test(name) ? 'stl' : /\.dxf$/i.test(name) ? 'dxf' : null;

export const tooLarge = (kind: FileKind, size: number): ImportProblem =>
  importProblem(
    'too-large',
    `The file has ${(size / 1048576).toFixed(1)} MB; up to ${FILE_LIMIT / 1048576} MB are read. ${kind === 'stl' ? 'Export the mesh coarser.' : kind === 'dxf' ? "Save only the contour's layer." : 'Export the single part, not the whole assembly.'}`,
  );
