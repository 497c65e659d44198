import { expose, transfer } from 'comlink';
import { buildPart, type PartDocument } from '../core/part';
import type { Stage } from '../solid/bring';
import { type Brought, bringFile } from '../solid/bringFile';
import { loadKernel } from '../solid/kernel';
import { revolveSection, stepText } from '../solid/revolve';
import type { FileKind, Wishes } from '../solid/wishes';

const kernel = () => loadKernel({ url: '/solid-kernel.wasm' });

export const solidApi = {
  /** Reads a file; the worker may be ended from outside when it takes too long. */
  async bring(
    kind: FileKind,
    bytes: Uint8Array,
    wishes: Partial<Wishes>,
    onStage?: (stage: Stage | 'kernel') => void,
  ): Promise<Brought> {
    const brought = await bringFile(kind, bytes, wishes, kernel, (s) => void onStage?.(s));
    const m = brought.mesh;
    return m ? transfer(brought, [m.positions.buffer, m.normals.buffer, m.triangles.buffer, m.edges.buffer]) : brought;
  },
  /** STEP text of the turned part; null when the contour does not close. */
  async step(document: PartDocument, unit: 'mm' | 'inch', name: string, date: string): Promise<string | null> {
    const part = buildPart(document, unit);
    if (part.boundary.length === 0) return null;
    await kernel();
    return stepText(revolveSection(part.boundary), name, date);
  },
};

export type SolidApi = typeof solidApi;

expose(solidApi);
