'use client';
import { X } from 'lucide-react';
import { useEffect, useState } from 'react';
import type { Material } from '@/core/cutting';
import { regionBounds } from '@/core/geometry';
import { type Holding, jawLength, WORK_OFFSETS } from '@/core/holding';
import type { Machine } from '@/core/machine';
import { formatLength } from '@/core/units';
import { FindingList } from '../card/Findings';
import { PartsSection } from '../card/RepeatFields';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { changeOperation } from '../job/edits';
import { useHeld, useHolding, useHoldingId } from '../job/holding';
import {
  changeBar,
  changeHolding,
  greatestDiameter,
  handOver,
  removeHolding,
  showHolding,
  takingSpindle,
  turnRound,
} from '../job/holdings';
import { Button, Choice, cx, IconButton, NumberField, Row, Section, TextField } from '../kit/controls';
import { useUnit } from '../kit/units';
import { ReachWords } from './ReachWords';

export interface Library {
  machines: Machine[];
  materials: Material[];
  tools: import('@/core/tooling').Tool[];
}

let cached: Library | null = null;

export const useLibrary = (): Library | null => {
  const [library, setLibrary] = useState<Library | null>(cached);
  useEffect(() => {
    if (cached) return;
    fetch('/api/library')
      .then((r) => r.json() as Promise<Library>)
      .then((l) => {
        if (!Array.isArray(l.machines)) return;
        cached = l;
        setLibrary(l);
      })
      .catch(() => undefined);
  }, []);
  return library;
};

const HOLD_CODES = new Set([
  'stock-too-small',
  'stick-out-short',
  'cutoff-meets-jaws',
  'part-missing',
  'tool-meets-jaws',
  'turret-meets-jaws',
  'tool-meets-chuck',
  'turret-meets-chuck',
  'unsupported',
  'grip-short',
  'grip-lost',
  'safe-distance-small',
  'tool-change-close',
  'spindle-unknown',
  'grip-beyond-piece',
  'grip-on-air',
  'grip-on-thread',
  'piece-not-off',
  'same-zero',
  'handover-room',
  'handover-slide',
  'no-handover',
  'handover-unknown',
  'cannot-synchronise',
  'no-limited-feed',
  'device-missing',
  'limits-crossed',
  'repeat-too-long',
  'repeat-pitch',
  'repeat-zeros',
  'repeat-in-the-way',
  'repeat-first',
]);

const FieldTitle = ({ text }: { text: string }) => <span className="mb-0.5 mt-1.5 block text-soft">{text}</span>;

export const HoldTray = () => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const edit = useDocument((s) => s.edit);
  const library = useLibrary();
  const findings = derived?.findings.filter((f) => HOLD_CODES.has(f.code)) ?? [];
  const holding = useHolding();
  const spindle = job.machine.spindles.find((k) => k.id === holding.spindle);
  return (
    <>
      <Section title="Machine and material">
        <FieldTitle text="Machine" />
        <Choice
          label="Machine"
          className="w-full"
          value={job.machine.id}
          options={(library?.machines ?? [job.machine]).map((m) => ({ value: m.id, label: m.name }))}
          onChange={(v) =>
            edit('machine', (j) => ({ ...j, machine: library?.machines.find((m) => m.id === v) ?? j.machine }))
          }
        />
        <p className="mt-1 text-soft">{job.machine.description}</p>
        {spindle && (
          <p className="num mt-0.5 text-soft">
            {spindle.maxSpeed} rev/min · {spindle.power} kW
          </p>
        )}
        <ReachWords machine={job.machine} />
        <FieldTitle text="Material" />
        <Choice
          label="Material"
          className="w-full"
          value={job.material.id}
          options={(library?.materials ?? [job.material]).map((m) => ({ value: m.id, label: m.name }))}
          onChange={(v) =>
            edit('material', (j) => ({ ...j, material: library?.materials.find((m) => m.id === v) ?? j.material }))
          }
        />
      </Section>
      <Sides />
      <Section title="What stands against it">
        {findings.length === 0 ? (
          <p className="text-verdigris">● Nothing: the part clears the jaws and the cutoff has room.</p>
        ) : (
          <FindingList findings={findings} />
        )}
      </Section>
    </>
  );
};

const STANDARD_BARS = [
  6, 8, 10, 12, 14, 16, 18, 20, 22, 25, 28, 30, 32, 35, 38, 40, 42, 45, 48, 50, 55, 56, 60, 62, 65, 70, 75, 80, 90, 100,
];

/** The holdings of the job in their order; the way to a second side. */
const Sides = () => {
  const order = useDocument((s) => s.job.holdingOrder);
  const holdings = useDocument((s) => s.job.holdings);
  const operations = useDocument((s) => s.job.operations);
  const shown = useHoldingId();
  const machine = useDocument((s) => s.job.machine);
  const taking = useDocument((s) => takingSpindle(s.job));
  const spindleName = (id: string): string => machine.spindles.find((k) => k.id === holdings[id].spindle)?.name ?? '';
  const count = (id: string): number =>
    Object.values(operations).filter((o) => o.holding === id && o.kind !== 'wait').length;
  return (
    <Section title="Sides">
      {order.length > 1 && (
        <ol className="mb-1.5" data-testid="sides">
          {order.map((id, i) => {
            const n = count(id);
            return (
              <li key={id} className="mb-1 flex items-center gap-1">
                <button
                  type="button"
                  aria-pressed={id === shown}
                  onClick={() => showHolding(id)}
                  className={cx(
                    'block min-w-0 flex-1 rounded border px-2 py-1 text-left',
                    id === shown ? 'border-woad bg-woad-pale font-semibold' : 'border-hair bg-white hover:border-woad',
                  )}
                >
                  <span className="block truncate">
                    {i + 1} {holdings[id].name}
                  </span>
                  <span className="block font-normal text-soft">
                    {machine.spindles.length > 1 && spindleName(id) !== holdings[id].name
                      ? `${spindleName(id)} · `
                      : ''}
                    {n === 0 ? 'nothing yet' : n === 1 ? '1 operation' : `${n} operations`}
                  </span>
                </button>
                {i > 0 && i === order.length - 1 && (
                  <IconButton label={`Remove ${holdings[id].name}`} onClick={() => removeHolding(id)}>
                    <X size={14} />
                  </IconButton>
                )}
              </li>
            );
          })}
        </ol>
      )}
      <Button className="w-full" onClick={() => turnRound()} data-testid="turn-round">
        Turn the part round
      </Button>
      {taking && (
        <Button className="mt-1.5 w-full" onClick={() => handOver()} data-testid="hand-over">
          Hand over to the {taking.name.toLowerCase()}
        </Button>
      )}
      {order.length === 1 && (
        <p className="mt-1 text-soft">Holds what is made here by its other end, for work on the back.</p>
      )}
    </Section>
  );
};

/** Metal that the cutoff of the holding before has to leave on the back, for a face on the second side. */
const BACK_ALLOWANCE = 0.5;

/** What a piece from another holding is, and whether it has anything to face. */
const Piece = ({ from, by }: { from: string; by: 'hand' | 'handover' }) => {
  const name = useDocument((s) => s.job.holdings[from]?.name ?? from);
  const operations = useDocument((s) => s.job.operations);
  const unit = useUnit();
  const held = useHeld();
  const cutoff = Object.values(operations).find((o) => o.holding === from && o.kind === 'cutoff' && o.on);
  const leaves = cutoff?.kind === 'cutoff' ? cutoff.params.leave : null;
  const b = held && held.rawStock.length > 0 ? regionBounds(held.rawStock) : null;
  const front = held && held.part.region.length > 0 ? regionBounds(held.part.region).maxX : 0;
  return (
    <Section title="Stock: a piece">
      <p>
        What “{name}” leaves, {by === 'handover' ? 'taken over by its front' : 'turned round'}
        {b ? `: ${formatLength(b.maxX - b.minX, unit)} long` : ''}.
      </p>
      {b && (
        <p className="num mt-0.5 text-soft">
          {b.maxX - front > 0.005
            ? `${formatLength(b.maxX - front, unit)} to face off`
            : 'nothing in front of its face'}
        </p>
      )}
      {cutoff && leaves === 0 && (
        <Button
          tone="quiet"
          className="-ml-2 !text-woad"
          onClick={() => changeOperation(cutoff.id, 'Leave on the back', 'params.leave', BACK_ALLOWANCE)}
        >
          let the cutoff leave {formatLength(BACK_ALLOWANCE, unit)} to face
        </Button>
      )}
    </Section>
  );
};

export const HoldCard = () => {
  const unit = useUnit();
  const id = useHoldingId();
  const holding = useHolding();
  const held = useHeld();
  const several = useDocument((s) => s.job.holdingOrder.length > 1);
  const u = unit === 'inch' ? 'in' : 'mm';
  const { stock, jaws } = holding;
  const change = (label: string, patch: Partial<Holding>): void => changeHolding(id, label, patch);
  const greatest = greatestDiameter(held);
  const suggested = greatest === null ? null : STANDARD_BARS.find((d) => d >= greatest + 0.5);
  const length = (label: string, value: number, help: string, onChange: (v: number) => void) => (
    <Row label={label} help={help} unit={u}>
      <NumberField label={label} unit={unit} value={value} onChange={(v) => v !== null && v >= 0 && onChange(v)} />
    </Row>
  );
  const step = (i: number, patch: Partial<(typeof jaws.steps)[number]>): void =>
    change('jaw step', { jaws: { ...jaws, steps: jaws.steps.map((k, n) => (n === i ? { ...k, ...patch } : k)) } });
  return (
    <div data-testid="hold-card">
      {several && (
        <Section title="This side">
          <TextField
            label="Name"
            value={holding.name}
            onChange={(v) => v.trim() && change('name of side', { name: v.trim().slice(0, 120) })}
          />
        </Section>
      )}
      {stock.form === 'from' && <Piece from={stock.holding} by={stock.by} />}
      {stock.form === 'bar' && (
        <Section title="Stock: round bar">
          {length('Bar ⌀', stock.diameter, 'Diameter of the bar.', (v) => {
            if (v > 0) changeBar(id, 'bar diameter', { diameter: v });
          })}
          {suggested !== null && suggested !== undefined && suggested !== stock.diameter && (
            <Button
              tone="quiet"
              className="-ml-2 !text-woad"
              onClick={() => changeBar(id, 'standard bar', { diameter: suggested })}
            >
              next standard bar: ⌀{suggested}
            </Button>
          )}
          {length('Front allowance', stock.frontAllowance, 'Metal in front of the part, taken off by facing.', (v) =>
            changeBar(id, 'front allowance', { frontAllowance: v }),
          )}
        </Section>
      )}
      <PartsSection holding={id} />
      <Section title={`Chuck: ${jaws.count} jaws`}>
        {stock.form === 'bar' &&
          length(
            'Stick-out',
            stock.stickOut,
            'From the front of the jaws to the front of the stock. It can be dragged in the drawing.',
            (v) => {
              if (v > 0) changeBar(id, 'stick-out', { stickOut: v });
            },
          )}
        {length(
          'Grip',
          holding.grip,
          stock.form === 'bar'
            ? 'Length of bar that the jaws hold.'
            : 'How deep the piece lies in the jaws. Their front can be dragged in the drawing.',
          (v) => {
            if (v > 0) change('grip', { grip: v });
          },
        )}
        {stock.form === 'from' && held && (
          <Row label="Closes on ⌀" unit={u}>
            <span className="num w-20 text-right text-soft">{formatLength(held.seat.radius * 2, unit)}</span>
          </Row>
        )}
        {jaws.steps.map((s, i) => (
          <div key={i}>
            {length(`Step ${i + 1} length`, s.length, 'How far the jaw’s step reaches back.', (v) => {
              if (v > 0) step(i, { length: v });
            })}
            {length(`Step ${i + 1} height`, s.height, 'How high the step stands above the work.', (v) => {
              if (v > 0) step(i, { height: v });
            })}
          </div>
        ))}
        <Row label="Jaw length" unit={u}>
          <span className="num w-20 text-right text-soft">{formatLength(jawLength(holding), unit)}</span>
        </Row>
      </Section>
      <Section title="Zero and safety">
        <Row label="Work offset">
          <Choice
            label="Work offset"
            className="w-20"
            value={holding.workOffset}
            options={WORK_OFFSETS.map((v) => ({ value: v, label: v }))}
            onChange={(v) => change('work offset', { workOffset: v as 'G54' })}
          />
        </Row>
        {length(
          'Safe distance',
          holding.safeDistance,
          'No rapid comes closer to metal than this; every cut begins this far outside.',
          (v) => {
            if (v > 0.05) change('safe distance', { safeDistance: v });
          },
        )}
        {length('Tool change ⌀', holding.toolChange.diameter, 'Where the tip stands when the turret turns.', (v) => {
          if (v > 0) change('tool change', { toolChange: { ...holding.toolChange, diameter: v } });
        })}
        {length('Tool change Z', holding.toolChange.z, 'Where the tip stands when the turret turns.', (v) =>
          change('tool change', { toolChange: { ...holding.toolChange, z: v } }),
        )}
        <Row label="Speed limit" help="Greatest spindle speed here, for chuck and work." unit="rev/min">
          <NumberField
            label="Speed limit"
            value={holding.maxSpeed}
            step={100}
            onChange={(v) => v !== null && v > 0 && change('speed limit', { maxSpeed: v })}
          />
        </Row>
      </Section>
    </div>
  );
};
