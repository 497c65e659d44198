'use client';
import { create } from 'zustand';
import type { Plane } from '@/core/frames';
import type { Axis } from '@/core/geometry';
import type { Source } from '@/core/part';
import { reviseJob } from '@/core/plan';
import type { Brought } from '@/solid/bringFile';
import { FILE_LIMIT, type FileKind, kindOfFile, PLAIN_WISHES, tooLarge, type Wishes } from '@/solid/wishes';
import { useDocument } from '../job/document';
import { shownName } from '../kit/fileNames';
import { sha256 } from '../kit/ids';
import { bringAnywhere, keepFile } from './bring';
import { EndedError, endSolids } from './worker';

/** A file that is being looked at before it becomes the part. */
export interface Bringing {
  readonly name: string;
  readonly kind: FileKind;
  readonly bytes: Uint8Array;
  readonly hash: string;
  readonly wishes: Wishes;
  readonly brought: Brought | null;
  /** What is being done, null when nothing is. */
  readonly stage: string | null;
  readonly failure: string | null;
}

export type PartView = 'section' | 'both' | 'solid';

interface PartState {
  view: PartView;
  bringing: Bringing | null;
  /** Which face the next click in the 3D view chooses. */
  facePick: 'axis' | 'zero' | null;
  feature: string | null;
  hoveredFeature: string | null;
  showPrevious: boolean;
  /** What the 3D view was last asked to look square at. */
  square: Plane | null;
  lookSquare: (plane: Plane) => void;
  /** Mesh of the part's own source file, by hash. */
  source: { readonly hash: string; readonly brought: Brought } | null;
  set: (patch: Partial<Pick<PartState, 'view' | 'facePick' | 'feature' | 'hoveredFeature' | 'showPrevious'>>) => void;
  open: (file: File) => Promise<void>;
  wish: (change: (w: Wishes) => Wishes) => void;
  cancel: () => void;
  take: (revision: string | null) => void;
  again: () => Promise<void>;
  loadSource: () => Promise<void>;
}

const STAGES: Record<string, string> = {
  kernel: 'getting the solid kernel ready',
  reading: 'reading the file',
  faces: 'looking at the faces',
  section: 'cutting the section',
  features: 'listing the features',
  mesh: 'meshing for the 3D view',
  server: 'this browser cannot: the server reads it',
};

/** What ties a part to the file it came from. */
export const sourceOf = (
  file: { readonly name: string; readonly kind: FileKind; readonly hash: string },
  axis: Axis | null,
  wish: Record<string, unknown>,
): Source => ({
  name: file.name,
  kind: file.kind,
  hash: file.hash,
  axis: axis && { point: [...axis.point], direction: [...axis.direction] },
  wish,
});

let ticket = 0;

export const usePart = create<PartState>((set, get) => {
  const read = async (): Promise<void> => {
    const now = get().bringing;
    if (!now) return;
    const mine = ++ticket;
    set({ bringing: { ...now, stage: STAGES.reading, failure: null } });
    const mineStill = (): boolean => mine === ticket && get().bringing !== null;
    try {
      const tell = (stage: string): void => {
        const b = get().bringing;
        if (mineStill() && b) set({ bringing: { ...b, stage } });
      };
      const brought = await bringAnywhere(now, (stage) => tell(STAGES[stage] ?? stage), mineStill);
      if (!brought) return;
      const b = get().bringing;
      if (mineStill() && b) set({ bringing: { ...b, brought, stage: null } });
    } catch (error) {
      const b = get().bringing;
      if (!mineStill() || !b) return;
      const reason =
        error instanceof EndedError
          ? error.message
          : `The file could not be read (${error instanceof Error ? error.message.slice(0, 200) : 'unknown reason'}). The part stays as it was.`;
      set({ bringing: { ...b, stage: null, failure: reason } });
    }
  };

  const start = async (name: string, kind: FileKind, bytes: Uint8Array, wishes: Wishes): Promise<void> => {
    set({
      bringing: {
        name,
        kind,
        bytes,
        hash: sha256(bytes),
        wishes,
        brought: null,
        stage: STAGES.reading,
        failure: null,
      },
      feature: null,
      facePick: null,
    });
    await read();
  };

  return {
    view: 'section',
    bringing: null,
    facePick: null,
    feature: null,
    hoveredFeature: null,
    showPrevious: false,
    square: null,
    lookSquare: (square) => set({ square }),
    source: null,

    set: (patch) => set(patch),

    open: async (file) => {
      const name = shownName(file.name);
      const kind = kindOfFile(file.name);
      const refuse = (failure: string): void =>
        set({
          bringing: {
            name,
            kind: kind ?? 'step',
            bytes: new Uint8Array(),
            hash: '',
            wishes: PLAIN_WISHES,
            brought: null,
            stage: null,
            failure,
          },
        });
      if (!kind) {
        refuse('Only STEP (.step, .stp), STL and DXF files are read. Save the part as one of them.');
        return;
      }
      if (file.size > FILE_LIMIT) {
        refuse(`${tooLarge(kind, file.size).message} The part stays as it was.`);
        return;
      }
      await start(name, kind, new Uint8Array(await file.arrayBuffer()), PLAIN_WISHES);
    },

    wish: (change) => {
      const b = get().bringing;
      if (!b || b.bytes.length === 0) return;
      set({ bringing: { ...b, wishes: change(b.wishes) }, facePick: null });
      void read();
    },

    cancel: () => {
      ticket++;
      if (get().bringing?.stage) endSolids();
      set({ bringing: null, facePick: null });
    },

    take: (revision) => {
      const b = get().bringing;
      const part = b?.brought?.part;
      if (!b || !part) return;
      const { edit } = useDocument.getState();
      const whole = { ...part, source: sourceOf(b, b.brought?.axis ?? null, { ...b.wishes[b.kind] }) };
      edit(`bring in ${[...b.name].slice(0, 60).join('')}`, (j) =>
        revision === null ? { ...j, part: whole } : reviseJob(j, whole, revision).job,
      );
      void keepFile(b.hash, b.name, b.bytes);
      set({
        bringing: null,
        facePick: null,
        source: b.brought ? { hash: b.hash, brought: b.brought } : null,
        showPrevious: false,
        square: null,
      });
    },

    again: async () => {
      const { source } = useDocument.getState().job.part;
      if (!source) return;
      const response = await fetch(`/api/files/${source.hash}`).catch(() => null);
      if (!response?.ok) {
        set({
          bringing: {
            name: source.name,
            kind: source.kind,
            bytes: new Uint8Array(),
            hash: source.hash,
            wishes: PLAIN_WISHES,
            brought: null,
            stage: null,
            failure: 'The file that this part came from is not kept here. Bring it in again.',
          },
        });
        return;
      }
      await start(source.name, source.kind, new Uint8Array(await response.arrayBuffer()), {
        ...PLAIN_WISHES,
        [source.kind]: { ...PLAIN_WISHES[source.kind], ...source.wish },
      });
    },

    loadSource: async () => {
      const { source } = useDocument.getState().job.part;
      if (!source || source.kind === 'dxf' || get().source?.hash === source.hash) return;
      const response = await fetch(`/api/files/${source.hash}`).catch(() => null);
      if (!response?.ok) return;
      const bytes = new Uint8Array(await response.arrayBuffer());
      const wishes = { ...PLAIN_WISHES, [source.kind]: { ...PLAIN_WISHES[source.kind], ...source.wish } } as Wishes;
      const file = { name: source.name, kind: source.kind, bytes, wishes };
      const brought = await bringAnywhere(file).catch(() => null);
      if (brought && useDocument.getState().job.part.source?.hash === source.hash)
        set({ source: { hash: source.hash, brought } });
    },
  };
});
