'use client';
import { useState } from 'react';
import { toast } from 'sonner';
import type { Edge } from '@/core/plan';
import { tieWithMark } from '../job/edits';

interface Block {
  readonly id: string;
  readonly left: number;
  readonly right: number;
  readonly top: number;
}

const SAID = {
  'begin together': 'Both begin together.',
  'end together': 'What follows both waits for both.',
  after: 'The one waits for the other.',
} as const;

/** Ends of blocks from which a cord is drawn to a block in another lane: that ties them with a mark. */
export const Ties = ({ blocks, height }: { blocks: readonly Block[]; height: number }) => {
  const [cord, setCord] = useState<{ edge: Edge; x: number; y: number; toX: number; toY: number } | null>(null);
  const drop = (edge: Edge, clientX: number, clientY: number): void => {
    const under = document
      .elementsFromPoint(clientX, clientY)
      .map((e) => e.closest<HTMLElement>('[data-testid^="block-"]'))
      .find((e) => e !== null);
    const id = under?.dataset.testid?.slice('block-'.length);
    if (!under || !id) return;
    const box = under.getBoundingClientRect();
    const said = tieWithMark(edge, { operation: id, side: clientX < box.left + box.width / 2 ? 'start' : 'end' });
    toast.message(said ? SAID[said] : 'A mark ties operations in different lanes.');
  };
  return (
    <>
      {cord && (
        <svg className="pointer-events-none absolute inset-0 z-30 h-full w-full" aria-hidden>
          <line x1={cord.x} y1={cord.y} x2={cord.toX} y2={cord.toY} stroke="var(--color-ink)" strokeWidth={1.6} />
          <circle cx={cord.toX} cy={cord.toY} r={4} fill="var(--color-paper)" stroke="var(--color-ink)" />
        </svg>
      )}
      {blocks.flatMap((b) =>
        (['start', 'end'] as const).map((side) => {
          const x = side === 'start' ? b.left : b.right;
          const y = b.top + height;
          return (
            <button
              type="button"
              key={`${b.id} ${side}`}
              data-testid={`tie-${b.id}-${side}`}
              aria-label={`Tie the ${side} of this to another lane`}
              title="Drag to a block in another lane: a mark ties both"
              tabIndex={-1}
              className="absolute z-10 h-[9px] w-[9px] cursor-crosshair rounded-full border border-soft bg-paper opacity-0 hover:opacity-100 focus:opacity-100"
              style={{ left: x + (side === 'start' ? 1 : -10), top: y - 5 }}
              onPointerDown={(e) => {
                e.stopPropagation();
                e.currentTarget.setPointerCapture(e.pointerId);
                setCord({ edge: { operation: b.id, side }, x, y, toX: x, toY: y });
              }}
              onPointerMove={(e) => {
                if (cord?.edge.operation !== b.id || cord.edge.side !== side) return;
                const ground = e.currentTarget.parentElement?.getBoundingClientRect();
                if (ground) setCord({ ...cord, toX: e.clientX - ground.left, toY: e.clientY - ground.top });
              }}
              onPointerUp={(e) => {
                if (!cord) return;
                setCord(null);
                drop(cord.edge, e.clientX, e.clientY);
              }}
            />
          );
        }),
      )}
    </>
  );
};
