'use client';
import { Maximize, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { Finding } from '@/core/findings';
import { boundsOfCurves, pathOfCurves, regionBounds } from '@/core/geometry';
import { jawLength } from '@/core/holding';
import { allElements, describeElement, elementsBetween, type Side, snapAt } from '@/core/part';
import type { Job } from '@/core/plan';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useHeld, useHolding } from '../job/holding';
import { usePartsAlong } from '../job/repeats';
import { useSelection } from '../job/selection';
import { IconButton } from '../kit/controls';
import { percent } from '../kit/state';
import { MeasureMarks } from '../measure/Measure';
import { type Pick3, useMeasure } from '../measure/store';
import { useBuiltPart } from '../part/built';
import { useFeatures } from '../part/FeatureList';
import { Handles } from '../part/Handles';
import { Overlay } from '../part/Overlay';
import { usePart } from '../part/store';
import { HoldDimensions, LimitHandles, PartDimensions } from './dimensions';
import { FacingSpindle, useFacing } from './FacingSpindle';
import { FollowTheWork, HoldingSwitch } from './HoldingSwitch';
import { AtTheEnd, MovingStock, MovingTool, Readout, SupportShape } from './moving';
import { Patterns } from './Patterns';
import { COVER, CoverageStrip, FindingMarks, Fixtures, OtherParts, PartOutline, ToolPath } from './still';
import { Threads } from './Threads';
import { toScreen, toWorld, useSize, useView } from './view';

/** The holding in whose coordinates a finding is told. */
const holdingOf = (job: Job, f: Finding): string =>
  f.holding ?? (f.operation === null ? undefined : job.operations[f.operation]?.holding) ?? job.holdingOrder[0];

/** Where: part, stock, holding and tool on the axis, to scale; the upper half is cut open, the lower one shows the outside. */
export const Centreline = () => {
  const [ref, size] = useSize();
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const phase = useSelection((s) => s.phase);
  const operationId = useSelection((s) => s.operation);
  const elementId = useSelection((s) => s.element);
  const span = useSelection((s) => s.span);
  const candidates = useDerived((s) => s.candidates);
  const previewed = useSelection((s) => s.previewed);
  const set = useSelection((s) => s.set);
  const [pointer, setPointer] = useState<{ x: number; y: number } | null>(null);
  const [hover, setHover] = useState<string | null>(null);
  const drag = useRef<{ x: number; y: number } | null>(null);
  const measuring = useMeasure((s) => s.on);
  const bringing = usePart((s) => s.bringing);
  const hoveredFeature = usePart((s) => s.hoveredFeature);
  const chosenFeature = usePart((s) => s.feature);
  const features = useFeatures();
  const lit = useMemo(
    () =>
      new Set(
        phase === 'part'
          ? [hoveredFeature, chosenFeature].flatMap((id) => features.find((f) => f.id === id)?.elements ?? [])
          : [],
      ),
    [phase, hoveredFeature, chosenFeature, features],
  );

  // in the Part phase the contour is drawn as typed, before the plan has followed
  const built = useBuiltPart();
  const held = useHeld();
  const holding = useHolding();
  const shape = phase === 'part' ? built : held?.part;
  // the Part phase shows the part as it is drawn: a holding with the part turned round is not that
  const here = held !== null && (phase !== 'part' || !held.turned);
  const facing = useFacing(held);
  const box = useMemo(() => {
    const part = shape?.region ?? [];
    const stock = held && held.rawStock.length > 0 ? regionBounds(held.rawStock) : { maxX: 1, maxY: 20 };
    const front = held?.seat.jawFront ?? -40;
    const own = part.length > 0 ? regionBounds(part) : { minX: -20, maxX: 0, maxY: stock.maxY };
    const other = bringing?.brought?.half ? boundsOfCurves(bringing.brought.half.outer) : own;
    const b =
      phase === 'part'
        ? {
            minX: Math.min(own.minX, other.minX),
            maxX: Math.max(own.maxX, other.maxX),
            maxY: Math.max(own.maxY, other.maxY),
          }
        : own;
    const wide = phase === 'hold' || phase === 'tool' || phase === 'prove';
    return {
      minX: Math.min(b.minX, wide ? front - jawLength(holding) * 0.8 : Math.max(front - 6, b.minX - 16)),
      maxX: phase !== 'part' && facing ? facing.far : Math.max(b.maxX, stock.maxX) + (wide ? 16 : 10),
      maxY: wide ? stock.maxY + 18 : Math.max(b.maxY, stock.maxY) + 3,
    };
  }, [shape, held, holding, phase, facing, bringing?.brought]);
  const { view, fit, zoom, pan } = useView(
    box,
    size,
    `${phase === 'hold' || phase === 'tool' || phase === 'prove'}|${job.header.number}|${held?.id ?? ''}|${facing?.held.id ?? ''}|${holding.stock.form === 'bar' ? holding.stock.diameter : ''}|${bringing?.brought ? Math.round(box.minX) : ''}`,
    here && held.direction < 0 ? -1 : 1,
  );

  useEffect(() => {
    const onFit = (): void => fit();
    window.addEventListener('lively:fit', onFit);
    return () => window.removeEventListener('lively:fit', onFit);
  }, [fit]);

  useEffect(() => {
    const element = ref.current;
    if (!element) return;
    const onWheel = (e: WheelEvent): void => {
      e.preventDefault();
      const b = element.getBoundingClientRect();
      zoom(e.clientX - b.left, e.clientY - b.top, Math.exp(-e.deltaY * 0.0015));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [ref, zoom]);

  const k = view?.k ?? 1;
  const hair = 1 / k;
  const part = shape;
  const parts = usePartsAlong(held);
  const partBox = part && part.region.length > 0 ? regionBounds(part.region) : null;

  const elements = useMemo(() => (part ? allElements(part) : []), [part]);
  const spanIds = useMemo(() => {
    if (!span || !part || phase !== 'plan') return new Set<string>();
    const list = span.side === 'outer' ? part.outer : part.inner;
    return new Set((elementsBetween(list, span) ?? []).map((e) => e.id));
  }, [span, part, phase]);

  const pick = (id: string, side: Side, extend: boolean): void => {
    // a bore from the back is cut when the part is turned round
    if (phase === 'part' || side === 'back') {
      set({ element: id });
      return;
    }
    if (extend && span && span.side === side) set({ span: { side, from: span.from, to: id } });
    else
      set({
        span: { side, from: id, to: id },
        operation: null,
        phase: phase === 'prove' || phase === 'release' ? phase : 'plan',
      });
  };

  const preview = previewed !== null && candidates ? candidates[previewed] : null;
  const snapFor = (p: { x: number; y: number }): Pick3 | null => {
    const found = snapAt(elements, { x: p.x, y: Math.abs(p.y) }, 10 / k);
    return found && { ...found, space: null };
  };
  const snapped = measuring && pointer && view ? snapFor(pointer) : null;
  const findings =
    derived?.findings.filter(
      (f) =>
        f.at &&
        f.severity !== 'info' &&
        (phase === 'prove' || f.operation === operationId) &&
        holdingOf(job, f) === held?.id,
    ) ?? [];
  const hovered = elements.find((e) => e.id === hover);

  return (
    <div ref={ref} className="relative h-full w-full overflow-hidden bg-linen" data-testid="centreline">
      {view && (
        <svg
          width={size.width}
          height={size.height}
          role="group"
          aria-label={`Section of ${job.header.name} on the centreline`}
          onPointerMove={(e) => {
            const b = e.currentTarget.getBoundingClientRect();
            setPointer(toWorld(view, e.clientX - b.left, e.clientY - b.top));
            if (drag.current) {
              pan(e.clientX - drag.current.x, e.clientY - drag.current.y);
              drag.current = { x: e.clientX, y: e.clientY };
            }
          }}
          onPointerLeave={() => setPointer(null)}
          onPointerDownCapture={(e) => {
            if (!measuring || e.button !== 0) return;
            // while measuring every click is a pick, whatever lies under it
            e.stopPropagation();
            const b = e.currentTarget.getBoundingClientRect();
            const found = snapFor(toWorld(view, e.clientX - b.left, e.clientY - b.top));
            if (found) useMeasure.getState().pick(found);
          }}
          onClickCapture={(e) => {
            if (measuring) e.stopPropagation();
          }}
          style={measuring ? { cursor: 'crosshair' } : undefined}
          onPointerDown={(e) => {
            if (e.target === e.currentTarget || (e.target as Element).getAttribute('data-ground')) {
              drag.current = { x: e.clientX, y: e.clientY };
              e.currentTarget.setPointerCapture(e.pointerId);
            }
          }}
          onPointerUp={() => {
            drag.current = null;
          }}
        >
          <Patterns hair={hair} />
          <rect data-ground="1" width={size.width} height={size.height} fill="transparent" />
          <g transform={`translate(${view.ox} ${view.oy}) scale(${view.s * k} ${-k})`}>
            {held && here && <Fixtures chuck={held.chuck} jaws={held.jaws} hair={hair} />}
            {here && <MovingStock hair={hair} />}
            {held && here && <SupportShape held={held} hair={hair} />}
            {part && part.boundary.length > 0 && (
              <PartOutline
                boundary={part.boundary}
                opacity={phase === 'prove' || phase === 'release' ? 0 : 0.55}
                hair={hair}
              />
            )}
            {part && parts && here && (
              <OtherParts boundary={part.boundary} pitch={parts.pitch} count={parts.count} hair={hair} />
            )}
            {here && <Threads hair={hair} />}
            <AtTheEnd hair={hair} />
            {(phase === 'plan' || phase === 'part') && derived && (
              <CoverageStrip elements={elements} coverage={derived.coverage} hair={hair} />
            )}
            {elements.map((e) => {
              const chosen =
                spanIds.has(e.id) ||
                lit.has(e.id) ||
                (phase === 'part' && (elementId === e.id || elementId === e.id.split('/')[0]));
              return (
                <g key={e.id}>
                  {(chosen || hover === e.id) && (
                    <path
                      d={pathOfCurves([e.curve])}
                      fill="none"
                      stroke="var(--color-woad)"
                      strokeOpacity={chosen ? 1 : 0.5}
                      strokeWidth={(chosen ? 3.5 : 3) * hair}
                      pointerEvents="none"
                    />
                  )}
                  <path
                    d={pathOfCurves([e.curve])}
                    fill="none"
                    stroke="transparent"
                    strokeWidth={12 * hair}
                    style={{ cursor: 'pointer' }}
                    data-testid={`element-${e.id}`}
                    onPointerEnter={() => setHover(e.id)}
                    onPointerLeave={() => setHover(null)}
                    onClick={(ev) => pick(e.id, e.side, ev.shiftKey)}
                  />
                </g>
              );
            })}
            <ToolPath operation={phase === 'part' || phase === 'hold' ? null : operationId} hair={hair} />
            <MovingTool hair={hair} />
            {here && facing && <FacingSpindle facing={facing} hair={hair} />}
            {phase === 'part' && <Overlay hair={hair} />}
            <FindingMarks findings={findings} hair={hair} />
          </g>
          <line
            x1={8}
            x2={size.width - 8}
            y1={view.oy}
            y2={view.oy}
            stroke="var(--color-ink)"
            strokeWidth={1}
            strokeDasharray="18 4 3 4"
            pointerEvents="none"
          />
          {(() => {
            const o = toScreen(view, 0, 0);
            return (
              <g pointerEvents="none">
                <circle
                  cx={o.x}
                  cy={o.y}
                  r={5}
                  fill="var(--color-paper)"
                  stroke="var(--color-madder)"
                  strokeWidth={1.6}
                />
                <text x={o.x + 8} y={o.y - 8} className="num" fontSize={11} fill="var(--color-madder)">
                  Z0 {here ? holding.workOffset : ''}
                </text>
              </g>
            );
          })()}
          {part && partBox && (phase === 'part' || phase === 'plan') && <PartDimensions view={view} part={part} />}
          {phase === 'hold' && held && (
            <HoldDimensions view={view} width={size.width} height={size.height} held={held} />
          )}
          {phase === 'plan' && <LimitHandles view={view} width={size.width} height={size.height} />}
          {phase === 'part' && !bringing && !measuring && <Handles view={view} />}
          <MeasureMarks view={view} hover={snapped} />
        </svg>
      )}
      <div className="pointer-events-none absolute left-2 top-2 flex max-w-[55%] flex-wrap items-center gap-x-3 rounded bg-linen/85 px-1">
        {phase === 'plan' || phase === 'part' ? (
          <>
            <span className="eyebrow">coverage</span>
            {Object.entries(COVER).map(([name, c]) => (
              <span key={name} className="flex items-center gap-1.5 text-soft">
                <span className="inline-block h-2.5 w-3.5 border border-soft" style={{ background: c.colour }} />
                {c.word}
              </span>
            ))}
          </>
        ) : null}
        {preview && (
          <span className="rounded border border-woad bg-white px-2 py-0.5">
            {preview.reason ??
              (preview.makes
                ? `${preview.toolName} cuts ${preview.makes}`
                : `${preview.toolName} takes ${percent(preview.reach)} of the span`)}
          </span>
        )}
      </div>
      <FollowTheWork />
      <HoldingSwitch />
      <Readout pointer={pointer} about={hovered ? describeElement(hovered) : ''} />
      <div className="absolute bottom-1.5 right-2 flex rounded border border-hair bg-paper">
        <IconButton label="Larger" onClick={() => zoom(size.width / 2, size.height / 2, 1.3)}>
          <ZoomIn size={15} />
        </IconButton>
        <IconButton label="Smaller" onClick={() => zoom(size.width / 2, size.height / 2, 1 / 1.3)}>
          <ZoomOut size={15} />
        </IconButton>
        <IconButton label="Fit the drawing (0)" onClick={fit}>
          <Maximize size={15} />
        </IconButton>
      </div>
    </div>
  );
};
