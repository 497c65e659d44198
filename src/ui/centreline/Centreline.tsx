'use client';
import { Maximize, ZoomIn, ZoomOut } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { boundsOfCurves, type Curve, mapRegion, type Region, regionBounds } from '@/core/geometry';
import { jawFront, jawLength } from '@/core/holding';
import { isCutting } from '@/core/operations';
import { allElements, describeElement, type Side, snapAt } from '@/core/part';
import { mountedAt, toolFacts, toolSection } from '@/core/tooling';
import { formatLength } from '@/core/units';
import { setOperation } from '../job/edits';
import { momentAt } from '../job/playback';
import { useJob } from '../job/store';
import { IconButton } from '../kit/controls';
import { MeasureMarks } from '../measure/Measure';
import { type Pick3, useMeasure } from '../measure/store';
import { useBuiltPart } from '../part/built';
import { useFeatures } from '../part/FeatureList';
import { Handles } from '../part/Handles';
import { Overlay } from '../part/Overlay';
import { usePart } from '../part/store';
import { Dimension, Handle } from './marks';
import { chainPath, pathDrawing, regionPath, toolDrawing } from './paths';
import { toScreen, toWorld, useSize, useView } from './view';

const mirror = (r: Region): Region => mapRegion(r, (p) => ({ x: p.x, y: -p.y }), true);

const COVER: Record<string, { colour: string; dash?: string; word: string }> = {
  finished: { colour: 'var(--color-verdigris)', word: 'finished' },
  roughed: { colour: '#8fa6cc', word: 'roughed' },
  leftover: { colour: 'var(--color-weld)', dash: '3 2', word: 'leftover' },
  raw: { colour: '#ffffff', word: 'raw' },
};

/** Where: part, stock, holding and tool on the axis, to scale; the upper half is cut open, the lower one shows the outside. */
export const Centreline = () => {
  const [ref, size] = useSize();
  const job = useJob((s) => s.job);
  const derived = useJob((s) => s.derived);
  const phase = useJob((s) => s.phase);
  const operationId = useJob((s) => s.operation);
  const elementId = useJob((s) => s.element);
  const span = useJob((s) => s.span);
  const time = useJob((s) => s.time);
  const toolId = useJob((s) => s.tool);
  const candidates = useJob((s) => s.candidates);
  const previewed = useJob((s) => s.previewed);
  const set = useJob((s) => s.set);
  const edit = useJob((s) => s.edit);
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
  const shape = phase === 'part' ? built : derived?.part;
  const front = jawFront(job.stock, job.holding);
  const box = useMemo(() => {
    const part = shape?.region ?? [];
    const own = part.length > 0 ? regionBounds(part) : { minX: -20, maxX: 0, maxY: job.stock.diameter / 2 };
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
      minX: Math.min(b.minX, wide ? front - jawLength(job.holding) * 0.8 : Math.max(front - 6, b.minX - 16)),
      maxX: Math.max(b.maxX, job.stock.frontAllowance) + (wide ? 16 : 10),
      maxY: wide ? job.stock.diameter / 2 + 18 : Math.max(b.maxY, job.stock.diameter / 2) + 3,
    };
  }, [shape, job.stock, job.holding, front, phase, bringing?.brought]);
  const { view, fit, zoom, pan } = useView(
    box,
    size,
    `${phase === 'hold' || phase === 'tool' || phase === 'prove'}|${job.header.number}|${job.stock.diameter}|${bringing?.brought ? Math.round(box.minX) : ''}`,
  );

  const moment = useMemo(() => (derived ? momentAt(job, derived, time) : null), [job, derived, time]);
  const shownOperation = derived?.operations.find((o) => o.id === operationId) ?? null;
  const path = useMemo(() => {
    const events = phase === 'part' || phase === 'hold' ? [] : (shownOperation?.events ?? []);
    return pathDrawing(events);
  }, [shownOperation, phase]);

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

  const stock = moment?.stock ?? derived?.rawStock ?? [];
  const k = view?.k ?? 1;
  const hair = 1 / k;
  const part = shape;
  const unit = job.units;
  const partBox = part && part.region.length > 0 ? regionBounds(part.region) : null;

  const elements = part ? allElements(part) : [];
  const spanIds = useMemo(() => {
    if (!span || !part || phase !== 'plan') return new Set<string>();
    const list = span.side === 'outer' ? part.outer : part.inner;
    const a = list.findIndex((e) => e.id === span.from);
    const b = list.findIndex((e) => e.id === span.to);
    return new Set(list.slice(Math.min(a, b), Math.max(a, b) + 1).map((e) => e.id));
  }, [span, part, phase]);

  const pick = (id: string, side: Side, extend: boolean): void => {
    // the bore from the back is cut when the part is turned round
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

  // a tool shown by itself in the Tool phase stands beside the front of the part
  const standing = useMemo(() => {
    if (phase !== 'tool' || !toolId || !job.tools[toolId]) return null;
    const s = toolSection(job.tools[toolId], mountedAt(job.mounts, toolId)?.mount.wayUp);
    if (!s.ok || !partBox) return null;
    const facts = toolFacts(job.tools[toolId]);
    const at =
      facts.stands === 'across'
        ? { x: partBox.maxX - 1, y: job.stock.diameter / 2 + 3 }
        : { x: partBox.maxX + 4, y: facts.onCentre ? 0 : Math.max(0, (part?.inner[0]?.curve.from.y ?? 6) - 2) };
    return { section: s.section, at };
  }, [phase, toolId, job, partBox, part]);

  const tool =
    standing ??
    (moment?.operation?.section && moment.centre && phase !== 'part' && phase !== 'hold'
      ? { section: moment.operation.section, at: moment.centre }
      : null);
  const drawn = tool ? toolDrawing(tool.section) : null;

  const preview = previewed !== null && candidates ? candidates[previewed] : null;
  const op = operationId ? job.operations[operationId] : null;
  const limits =
    op && isCutting(op) && 'frontLimit' in op.params && phase === 'plan' ? { id: op.id, params: op.params } : null;
  const reachOfPath = useMemo(() => {
    if (!limits || !shownOperation) return null;
    const xs = shownOperation.events.flatMap((e) =>
      (e.kind === 'feed' || e.kind === 'arc') && e.to.Z !== undefined ? [e.to.Z] : [],
    );
    return xs.length > 0 ? { min: Math.min(...xs), max: Math.max(...xs) } : null;
  }, [limits, shownOperation]);

  const snapFor = (p: { x: number; y: number }): Pick3 | null => {
    const found = snapAt(elements, { x: p.x, y: Math.abs(p.y) }, 10 / k);
    return found && { ...found, space: null };
  };
  const snapped = measuring && pointer && view ? snapFor(pointer) : null;
  const findings =
    derived?.findings.filter(
      (f) => f.at && f.severity !== 'info' && (phase === 'prove' || f.operation === operationId),
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
          <defs>
            <pattern
              id="hatch-stock"
              width={7 * hair}
              height={7 * hair}
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width={7 * hair} height={7 * hair} fill="#e9ddb8" />
              <line x1="0" y1="0" x2="0" y2={7 * hair} stroke="#c9b77c" strokeWidth={hair} />
            </pattern>
            <pattern
              id="hatch-steel"
              width={6 * hair}
              height={6 * hair}
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(-45)"
            >
              <rect width={6 * hair} height={6 * hair} fill="#dcdedb" />
              <line x1="0" y1="0" x2="0" y2={6 * hair} stroke="#b3b9b8" strokeWidth={hair} />
            </pattern>
            <pattern id="stipple" width={4 * hair} height={4 * hair} patternUnits="userSpaceOnUse">
              <rect width={4 * hair} height={4 * hair} fill="#f3e3b4" />
              <circle cx={1.2 * hair} cy={1.2 * hair} r={0.9 * hair} fill="#b8860b" />
            </pattern>
            <pattern
              id="cross"
              width={5 * hair}
              height={5 * hair}
              patternUnits="userSpaceOnUse"
              patternTransform="rotate(45)"
            >
              <rect width={5 * hair} height={5 * hair} fill="#f4ded9" />
              <path d={`M0 0H${5 * hair}M0 0V${5 * hair}`} stroke="#a83a2a" strokeWidth={hair} />
            </pattern>
          </defs>
          <rect data-ground="1" width={size.width} height={size.height} fill="transparent" />
          <g transform={`translate(${view.ox} ${view.oy}) scale(${k} ${-k})`}>
            {derived && (
              <g pointerEvents="none">
                {[derived.chuck, mirror(derived.chuck)].map((r, i) => (
                  <path
                    key={i === 0 ? 'chuck-up' : 'chuck-down'}
                    d={regionPath(r)}
                    fill="#e6e6e0"
                    stroke="#8b9493"
                    strokeWidth={hair}
                  />
                ))}
                <path d={regionPath(derived.jaws)} fill="url(#hatch-steel)" stroke="#6d7777" strokeWidth={hair} />
                <path
                  d={regionPath(mirror(derived.jaws))}
                  fill="url(#hatch-steel)"
                  stroke="#6d7777"
                  strokeWidth={hair}
                />
                <path
                  data-testid="stock"
                  d={regionPath(stock)}
                  fill="url(#hatch-stock)"
                  stroke="#a8924f"
                  strokeWidth={hair}
                />
                <path d={regionPath(mirror(stock))} fill="#efe6cc" stroke="#a8924f" strokeWidth={hair} />
              </g>
            )}
            {part && part.boundary.length > 0 && (
              <g pointerEvents="none">
                <path
                  d={`${chainPath(part.boundary)}Z`}
                  fill="#fbfaf6"
                  fillOpacity={phase === 'prove' || phase === 'release' ? 0 : 0.55}
                  stroke="#1f2a30"
                  strokeWidth={1.6 * hair}
                />
                <g transform="scale(1 -1)">
                  <path
                    d={`${chainPath(part.boundary)}Z`}
                    fill="none"
                    stroke="#1f2a30"
                    strokeOpacity={0.75}
                    strokeWidth={hair}
                  />
                </g>
              </g>
            )}
            {derived && phase !== 'part' && phase !== 'hold' && time >= derived.timeline.total - 1e-6 && (
              <g pointerEvents="none">
                <path d={regionPath(derived.leftover)} fill="url(#stipple)" stroke="#b8860b" strokeWidth={hair} />
                <path d={regionPath(derived.gouge)} fill="url(#cross)" stroke="#a83a2a" strokeWidth={hair} />
              </g>
            )}
            {(phase === 'plan' || phase === 'part') && derived && part && (
              <g transform="scale(1 -1)" pointerEvents="none" data-testid="coverage">
                {elements.map((e) => {
                  const c = derived.coverage.find((k2) => k2.element === e.id);
                  const s = COVER[c?.state ?? 'raw'];
                  return (
                    <g key={e.id}>
                      <path d={chainPath([e.curve])} fill="none" stroke="#5e6a6e" strokeWidth={5.5 * hair} />
                      <path
                        d={chainPath([e.curve])}
                        fill="none"
                        stroke={s.colour}
                        strokeWidth={3.8 * hair}
                        strokeDasharray={s.dash ? '' : undefined}
                      />
                    </g>
                  );
                })}
              </g>
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
                      d={chainPath([e.curve])}
                      fill="none"
                      stroke="#2e4a7d"
                      strokeOpacity={chosen ? 1 : 0.5}
                      strokeWidth={(chosen ? 3.5 : 3) * hair}
                      pointerEvents="none"
                    />
                  )}
                  <path
                    d={chainPath([e.curve])}
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
            <g pointerEvents="none">
              {path.rapids && (
                <path
                  d={path.rapids}
                  fill="none"
                  stroke="#5e6a6e"
                  strokeWidth={hair}
                  strokeDasharray={`${3 * hair} ${3 * hair}`}
                />
              )}
              {path.leads && <path d={path.leads} fill="none" stroke="#2e4a7d" strokeWidth={hair} />}
              {path.cuts && (
                <path data-testid="toolpath" d={path.cuts} fill="none" stroke="#2e4a7d" strokeWidth={1.9 * hair} />
              )}
              {path.engage.map((p) => (
                <circle
                  key={`${p.x},${p.y}`}
                  cx={p.x}
                  cy={p.y}
                  r={3 * hair}
                  fill="#f4f1ea"
                  stroke="#2e4a7d"
                  strokeWidth={hair}
                />
              ))}
            </g>
            {tool && drawn && (
              <g transform={`translate(${tool.at.x} ${tool.at.y})`} pointerEvents="none" data-testid="tool">
                <path d={drawn.turret} fill="#d5d8d5" fillOpacity={0.55} stroke="#8b9493" strokeWidth={hair} />
                <path d={drawn.holder} fill="#c3c9c9" fillOpacity={0.9} stroke="#4f5a5e" strokeWidth={hair} />
                <path d={drawn.cutting} fill="#f0dfa6" stroke="#1f2a30" strokeWidth={1.2 * hair} />
                <circle cx={tool.section.tip.x} cy={tool.section.tip.y} r={2.2 * hair} fill="#a83a2a" />
              </g>
            )}
            {phase === 'part' && <Overlay hair={hair} />}
            {findings.map((f) => (
              <g key={`${f.operation}-${f.code}`} pointerEvents="none">
                <circle
                  cx={f.at?.x}
                  cy={f.at?.y}
                  r={9 * hair}
                  fill="none"
                  stroke={f.severity === 'blocking' ? '#a83a2a' : '#b8860b'}
                  strokeWidth={2 * hair}
                />
              </g>
            ))}
          </g>
          <line
            x1={8}
            x2={size.width - 8}
            y1={view.oy}
            y2={view.oy}
            stroke="#1f2a30"
            strokeWidth={1}
            strokeDasharray="18 4 3 4"
            pointerEvents="none"
          />
          {(() => {
            const o = toScreen(view, 0, 0);
            return (
              <g pointerEvents="none">
                <circle cx={o.x} cy={o.y} r={5} fill="#fbfaf6" stroke="#a83a2a" strokeWidth={1.6} />
                <text x={o.x + 8} y={o.y - 8} className="num" fontSize={11} fill="#a83a2a">
                  Z0 {job.holding.workOffset}
                </text>
              </g>
            );
          })()}
          {partBox && (phase === 'part' || phase === 'plan') && (
            <>
              <Dimension
                view={view}
                from={{ x: partBox.minX, y: -partBox.maxY }}
                to={{ x: partBox.maxX, y: -partBox.maxY }}
                offset={26}
                text={formatLength(partBox.maxX - partBox.minX, unit)}
              />
              {phase === 'part' && part && (
                <Diameters view={view} values={distinctDiameters(part.outer.map((e) => e.curve))} unit={unit} />
              )}
            </>
          )}
          {phase === 'hold' && (
            <>
              <Dimension
                view={view}
                from={{ x: front, y: -job.stock.diameter / 2 }}
                to={{ x: job.stock.frontAllowance, y: -job.stock.diameter / 2 }}
                offset={44}
                text={`stick-out ${formatLength(job.holding.stickOut, unit)}`}
              />
              <Dimension
                view={view}
                from={{ x: front - job.holding.grip, y: -job.stock.diameter / 2 }}
                to={{ x: front, y: -job.stock.diameter / 2 }}
                offset={44}
                text={`grip ${formatLength(job.holding.grip, unit)}`}
              />
              {partBox && (
                <Dimension
                  view={view}
                  from={{ x: partBox.minX, y: -job.stock.diameter / 2 }}
                  to={{ x: partBox.maxX, y: -job.stock.diameter / 2 }}
                  offset={20}
                  text={formatLength(partBox.maxX - partBox.minX, unit)}
                />
              )}
              <Handle
                view={view}
                height={size.height}
                z={front}
                label={`stick-out ${formatLength(job.holding.stickOut, unit)}`}
                onMove={(z) => Math.round((job.stock.frontAllowance - z) * 10) / 10}
                onDone={(z) => {
                  const next = Math.max(1, Math.round((job.stock.frontAllowance - z) * 10) / 10);
                  edit('drag stick-out', (j) => ({ ...j, holding: { ...j.holding, stickOut: next } }));
                }}
              />
            </>
          )}
          {limits && reachOfPath && (
            <>
              <Handle
                view={view}
                height={size.height}
                z={limits.params.backLimit ?? reachOfPath.min}
                label={
                  limits.params.backLimit === null
                    ? 'back end'
                    : `back limit ${formatLength(limits.params.backLimit, unit)}`
                }
                ghost={limits.params.backLimit === null}
                onMove={(z) => z}
                onDone={(z) =>
                  setOperation(limits.id, 'drag back limit', (o) =>
                    Object.assign(o.params, { backLimit: Math.round(z * 20) / 20 }),
                  )
                }
              />
              <Handle
                view={view}
                height={size.height}
                z={limits.params.frontLimit ?? reachOfPath.max}
                label={
                  limits.params.frontLimit === null
                    ? 'front end'
                    : `front limit ${formatLength(limits.params.frontLimit, unit)}`
                }
                ghost={limits.params.frontLimit === null}
                onMove={(z) => z}
                onDone={(z) =>
                  setOperation(limits.id, 'drag front limit', (o) =>
                    Object.assign(o.params, { frontLimit: Math.round(z * 20) / 20 }),
                  )
                }
              />
            </>
          )}
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
            {preview.reason ?? `${preview.toolName} takes ${(preview.reach * 100).toFixed(0)} % of the span`}
          </span>
        )}
      </div>
      <div
        className="num pointer-events-none absolute bottom-2 left-3 rounded bg-linen/85 px-1 text-ink"
        data-testid="readout"
      >
        {moment?.tip && moment.operation
          ? `X ${formatLength(moment.tip.y * 2, unit)}  Z ${formatLength(moment.tip.x, unit)}  S ${Math.round(moment.speed)}  T${moment.operation.station ?? '–'}`
          : pointer
            ? `⌀ ${formatLength(Math.round(Math.abs(pointer.y) * 200) / 100, unit)}  Z ${formatLength(Math.round(pointer.x * 100) / 100, unit)}`
            : ''}
        {hovered ? `   ${describeElement(hovered)}` : ''}
      </div>
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

/** Cylinders to label: for each diameter the longest. */
const distinctDiameters = (curves: readonly Curve[]): Curve[] => {
  const best = new Map<string, Curve>();
  for (const c of curves) {
    if (c.kind !== 'line' || Math.abs(c.from.y - c.to.y) > 1e-6) continue;
    const key = c.from.y.toFixed(3);
    const known = best.get(key);
    if (!known || Math.abs(c.to.x - c.from.x) > Math.abs(known.to.x - known.from.x)) best.set(key, c);
  }
  return [...best.values()];
};

const Diameters = ({
  view,
  values,
  unit,
}: {
  view: { k: number; ox: number; oy: number };
  values: readonly Curve[];
  unit: 'mm' | 'inch';
}) => (
  <g pointerEvents="none" className="num" fontSize={11} fill="#1f2a30">
    {values.map((c) => {
      const m = toScreen(view, (c.from.x + c.to.x) / 2, c.from.y);
      return (
        <g key={`${c.from.x}${c.from.y}`}>
          <text x={m.x} y={m.y - 7} textAnchor="middle" stroke="#f4f1ea" strokeWidth={3} paintOrder="stroke">
            ⌀{formatLength(c.from.y * 2, unit)}
          </text>
        </g>
      );
    })}
  </g>
);
