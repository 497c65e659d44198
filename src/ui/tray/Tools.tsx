'use client';
import { Plus, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { boundsOfPoints } from '@/core/geometry';
import { decodeInsert, type Tool, ToolSchema, toolSection } from '@/core/tooling';
import { toolDrawing } from '../centreline/paths';
import { useJob } from '../job/store';
import { Button, Choice, cx, IconButton, NumberField, Row, Section, TextField } from '../kit/controls';
import { useLibrary } from './Hold';

const toolWords = (t: Tool): string => {
  switch (t.kind) {
    case 'turning':
      return `${t.insert} · κ ${t.approachAngle}°`;
    case 'boring':
      return `${t.insert} · bar ⌀${t.barDiameter}`;
    case 'drill':
      return `⌀${t.diameter} · ${t.pointAngle}°`;
    case 'cutoff':
      return `blade ${t.width} · reach ${t.reach}`;
    default:
      return t satisfies never;
  }
};

/** A tool to scale from its numbers. */
export const ToolPicture = ({ tool, height }: { tool: Tool; height: number }) => {
  const section = useMemo(() => toolSection(tool), [tool]);
  if (!section.ok)
    return (
      <p className="p-2 text-madder">
        ✕ The insert “{section.found}” cannot be read. Write it as ISO 1832 has it, such as CNMG120408.
      </p>
    );
  const s = section.section;
  const shapes = [...s.cutting, ...s.holder].flatMap((k) =>
    k.points.flatMap((p) => [
      { x: p.x - k.radius, y: p.y - k.radius },
      { x: p.x + k.radius, y: p.y + k.radius },
    ]),
  );
  const b = boundsOfPoints(shapes);
  const pad = 3;
  const d = toolDrawing(s);
  return (
    <svg
      width="100%"
      height={height}
      viewBox={`${b.minX - pad} ${-b.maxY - pad} ${b.maxX - b.minX + 2 * pad} ${b.maxY - b.minY + 2 * pad}`}
      role="img"
      aria-label={`${tool.name} in section`}
    >
      <g transform="scale(1 -1)" strokeWidth={0.3}>
        <path d={d.holder} fill="#c3c9c9" stroke="#4f5a5e" vectorEffect="non-scaling-stroke" />
        <path d={d.cutting} fill="#f0dfa6" stroke="#1f2a30" vectorEffect="non-scaling-stroke" />
        <circle cx={s.tip.x} cy={s.tip.y} r={0.7} fill="#a83a2a" />
      </g>
    </svg>
  );
};

/** Stations around the turret, as they stand when it turns. */
export const ToolTray = () => {
  const job = useJob((s) => s.job);
  const chosen = useJob((s) => s.tool);
  const set = useJob((s) => s.set);
  const edit = useJob((s) => s.edit);
  const library = useLibrary();
  const carrier = job.machine.carriers[0];
  const stations = job.stations[carrier.id] ?? {};
  const [picking, setPicking] = useState<number | null>(null);
  const [filter, setFilter] = useState('');
  const used = new Set(Object.values(job.operations).map((o) => o.tool));
  const shelf = (library?.tools ?? []).filter(
    (t) =>
      !Object.values(stations).includes(t.id) &&
      `${t.name} ${toolWords(t)}`.toLowerCase().includes(filter.toLowerCase()),
  );
  const put = (tool: Tool, station: number): void => {
    edit(`put ${tool.name} into station ${station}`, (j) => {
      j.tools[tool.id] = tool;
      j.stations[carrier.id] = { ...(j.stations[carrier.id] ?? {}), [String(station)]: tool.id };
      return j;
    });
    set({ tool: tool.id });
    setPicking(null);
  };
  const clear = (station: number): void =>
    edit(`empty station ${station}`, (j) => {
      const id = j.stations[carrier.id]?.[String(station)];
      const next = { ...j.stations[carrier.id] };
      delete next[String(station)];
      j.stations[carrier.id] = next;
      if (id && !Object.values(j.operations).some((o) => o.tool === id)) delete j.tools[id];
      return j;
    });
  return (
    <>
      <Section title={`${carrier.name}, ${carrier.stations} stations`}>
        <ul data-testid="station-map">
          {Array.from({ length: carrier.stations }, (_, i) => i + 1).map((n) => {
            const tool = job.tools[stations[String(n)] ?? ''];
            return (
              <li
                key={n}
                className="flex items-center"
                onDragOver={(e) => e.preventDefault()}
                onDrop={(e) => {
                  const from = Number(e.dataTransfer.getData('text/lively-station'));
                  if (!from || from === n) return;
                  edit(`move station ${from} to ${n}`, (j) => {
                    const s = { ...j.stations[carrier.id] };
                    const a = s[String(from)];
                    const b = s[String(n)];
                    delete s[String(from)];
                    delete s[String(n)];
                    if (a) s[String(n)] = a;
                    if (b) s[String(from)] = b;
                    j.stations[carrier.id] = s;
                    return j;
                  });
                }}
              >
                <button
                  type="button"
                  draggable={Boolean(tool)}
                  onDragStart={(e) => e.dataTransfer.setData('text/lively-station', String(n))}
                  className={cx(
                    'flex h-8 min-w-0 flex-1 items-center gap-2 rounded px-1.5 text-left hover:bg-linen',
                    tool && chosen === tool.id && 'bg-woad-pale',
                    picking === n && 'bg-woad-pale',
                  )}
                  onClick={() => (tool ? set({ tool: tool.id }) : setPicking(picking === n ? null : n))}
                >
                  <span className="num inline-flex h-6 w-6 shrink-0 items-center justify-center rounded-full border border-soft bg-white">
                    {n}
                  </span>
                  {tool ? (
                    <span className="min-w-0 flex-1 leading-tight">
                      <span className="block truncate">{tool.name}</span>
                      <span className="num block truncate text-[11px] text-soft">
                        {toolWords(tool)}
                        {used.has(tool.id) ? '' : ' · not used'}
                      </span>
                    </span>
                  ) : (
                    <span className="text-soft">empty: take a tool</span>
                  )}
                </button>
                {tool && !used.has(tool.id) && (
                  <IconButton label={`Empty station ${n}`} className="!w-6" onClick={() => clear(n)}>
                    <X size={13} />
                  </IconButton>
                )}
              </li>
            );
          })}
        </ul>
      </Section>
      {picking !== null && (
        <Section title={`From the library into station ${picking}`}>
          <TextField
            label="Search the library"
            placeholder="search"
            className="mb-1 w-full"
            value={filter}
            onChange={setFilter}
          />
          <ul data-testid="library-list">
            {shelf.map((t) => (
              <li key={t.id}>
                <button
                  type="button"
                  className="flex h-8 w-full items-center gap-2 rounded px-1.5 text-left hover:bg-linen"
                  onClick={() => put(t, picking)}
                >
                  <Plus size={13} className="shrink-0" />
                  <span className="min-w-0 leading-tight">
                    <span className="block truncate">{t.name}</span>
                    <span className="num block truncate text-[11px] text-soft">{toolWords(t)}</span>
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </Section>
      )}
    </>
  );
};

export const ToolCard = () => {
  const job = useJob((s) => s.job);
  const id = useJob((s) => s.tool);
  const edit = useJob((s) => s.edit);
  const tool = id ? job.tools[id] : null;
  if (!tool)
    return (
      <p className="p-3 text-soft">
        Choose a station on the left to see its tool, or an empty one to take a tool from the library.
      </p>
    );
  const unit = job.units;
  const u = unit === 'inch' ? 'in' : 'mm';
  const change = (label: string, patch: Record<string, unknown>): void =>
    edit(`${label} of ${tool.name}`, (j) => {
      const next = ToolSchema.safeParse({ ...j.tools[tool.id], ...patch });
      if (next.success) j.tools[tool.id] = next.data;
      return j;
    });
  const length = (label: string, key: string, value: number, help: string) => (
    <Row label={label} help={help} unit={u}>
      <NumberField
        label={label}
        unit={unit}
        value={value}
        onChange={(v) => v !== null && v > 0 && change(label.toLowerCase(), { [key]: v })}
      />
    </Row>
  );
  const insert = 'insert' in tool ? decodeInsert(tool.insert) : null;
  return (
    <div data-testid="tool-card">
      <div className="border-b border-hair p-3">
        <TextField
          label="Name of the tool"
          className="w-full !border-transparent !bg-transparent !px-0 text-[15px] font-semibold hover:!border-hair"
          value={tool.name}
          onChange={(v) => change('name', { name: v.slice(0, 120) })}
        />
        <div className="mt-1 rounded border border-hair bg-white p-1">
          <ToolPicture tool={tool} height={170} />
        </div>
      </div>
      <Section title="Geometry">
        {'insert' in tool && (
          <>
            <Row
              label="Insert"
              help="Designation by ISO 1832: shape, clearance, tolerance, form, size, thickness, nose."
            >
              <TextField
                label="Insert"
                className="w-32 -mr-[4.6rem] !font-number"
                value={tool.insert}
                onChange={(v) => change('insert', { insert: v.toUpperCase().slice(0, 20) })}
              />
            </Row>
            {insert?.ok ? (
              <p className="num mb-1 text-soft">
                {insert.insert.cornerAngle > 0 ? `${insert.insert.cornerAngle}° corner, ` : 'round, '}edge{' '}
                {insert.insert.edgeLength.toFixed(2)}, nose {insert.insert.noseRadius}, relief{' '}
                {insert.insert.clearanceAngle}°
              </p>
            ) : (
              <p className="mb-1 text-madder" role="alert">
                ✕ “{tool.insert}” is no insert designation (place {(insert?.at ?? 0) + 1}: “{insert?.found}”). Write it
                like CNMG120408.
              </p>
            )}
            <Row label="Approach angle" help="Between the cutting edge and the feed toward the chuck." unit="°">
              <NumberField
                label="Approach angle"
                value={tool.approachAngle}
                onChange={(v) => v !== null && change('approach angle', { approachAngle: v })}
              />
            </Row>
            <Row label="Hand">
              <Choice
                label="Hand"
                className="w-24"
                value={tool.hand}
                onChange={(v) => change('hand', { hand: v })}
                options={[
                  { value: 'right', label: 'right' },
                  { value: 'left', label: 'left' },
                ]}
              />
            </Row>
          </>
        )}
        {tool.kind === 'turning' && length('Shank', 'shank', tool.shank, 'Side of the square shank.')}
        {tool.kind === 'boring' && length('Bar ⌀', 'barDiameter', tool.barDiameter, 'Diameter of the boring bar.')}
        {tool.kind === 'boring' &&
          length('Nose to axis', 'noseToAxis', tool.noseToAxis, 'From the nose to the bar’s own axis.')}
        {tool.kind === 'drill' && length('Diameter', 'diameter', tool.diameter, 'Diameter of the drill.')}
        {tool.kind === 'drill' && (
          <Row label="Point angle" unit="°">
            <NumberField
              label="Point angle"
              value={tool.pointAngle}
              onChange={(v) => v !== null && change('point angle', { pointAngle: v })}
            />
          </Row>
        )}
        {tool.kind === 'drill' &&
          length('Flutes', 'fluteLength', tool.fluteLength, 'Length that can go into the hole.')}
        {tool.kind === 'cutoff' && length('Blade width', 'width', tool.width, 'Width of the cut.')}
        {tool.kind === 'cutoff' &&
          length('Corner radius', 'cornerRadius', tool.cornerRadius, 'Radius of the blade’s corners.')}
        {tool.kind === 'cutoff' && length('Reach', 'reach', tool.reach, 'How deep the blade goes before its block.')}
        {length('Overhang', 'overhang', tool.overhang, 'From the tip to the turret.')}
      </Section>
      <Section title="Numbers">
        <Row label="Offset" help="Number of the tool offset; the station’s own when empty.">
          <NumberField
            label="Offset"
            value={tool.offset ?? null}
            optional="as station"
            width="w-24"
            onChange={(v) => change('offset', { offset: v === null ? undefined : Math.round(v) })}
          />
        </Row>
        {Object.values(job.operations).some((o) => o.tool === tool.id) ? (
          <p className="text-soft">
            Used by{' '}
            {Object.values(job.operations)
              .filter((o) => o.tool === tool.id)
              .map((o) => o.name)
              .join(', ')}
            .
          </p>
        ) : (
          <Button tone="quiet" className="-ml-2 !text-woad" onClick={() => useJob.getState().set({ phase: 'plan' })}>
            not used yet: plan with it
          </Button>
        )}
      </Section>
    </div>
  );
};
