'use client';
import { useEffect, useState } from 'react';
import type { Material } from '@/core/cutting';
import { regionBounds } from '@/core/geometry';
import { jawLength } from '@/core/holding';
import type { Machine } from '@/core/machine';
import { formatLength } from '@/core/units';
import { FindingList } from '../card/Findings';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { Button, Choice, NumberField, Row, Section } from '../kit/controls';

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
]);

const FieldTitle = ({ text }: { text: string }) => <span className="mb-0.5 mt-1.5 block text-soft">{text}</span>;

export const HoldTray = () => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const edit = useDocument((s) => s.edit);
  const library = useLibrary();
  const findings = derived?.findings.filter((f) => HOLD_CODES.has(f.code)) ?? [];
  const spindle = job.machine.spindles.find((k) => k.id === job.holding.spindle);
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

export const HoldCard = () => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const edit = useDocument((s) => s.edit);
  const unit = job.units;
  const u = unit === 'inch' ? 'in' : 'mm';
  const holding = (label: string, patch: Partial<typeof job.holding>): void =>
    edit(label, (j) => ({ ...j, holding: { ...j.holding, ...patch } }));
  const stock = (label: string, patch: Partial<typeof job.stock>): void =>
    edit(label, (j) => ({ ...j, stock: { ...j.stock, ...patch } }));
  const greatest = derived && derived.part.region.length > 0 ? regionBounds(derived.part.region).maxY * 2 : null;
  const suggested = greatest === null ? null : STANDARD_BARS.find((d) => d >= greatest + 0.5);
  const length = (label: string, value: number, help: string, onChange: (v: number) => void) => (
    <Row label={label} help={help} unit={u}>
      <NumberField label={label} unit={unit} value={value} onChange={(v) => v !== null && v >= 0 && onChange(v)} />
    </Row>
  );
  return (
    <div data-testid="hold-card">
      <Section title="Stock: round bar">
        {length(
          'Bar ⌀',
          job.stock.diameter,
          'Diameter of the bar.',
          (v) => v > 0 && stock('bar diameter', { diameter: v }),
        )}
        {suggested !== null && suggested !== undefined && suggested !== job.stock.diameter && (
          <Button
            tone="quiet"
            className="-ml-2 !text-woad"
            onClick={() => stock('standard bar', { diameter: suggested })}
          >
            next standard bar: ⌀{suggested}
          </Button>
        )}
        {length('Front allowance', job.stock.frontAllowance, 'Metal in front of the part, taken off by facing.', (v) =>
          stock('front allowance', { frontAllowance: v }),
        )}
      </Section>
      <Section title={`Chuck: ${job.holding.jaws.count} jaws`}>
        {length(
          'Stick-out',
          job.holding.stickOut,
          'From the front of the jaws to the front of the stock. It can be dragged in the drawing.',
          (v) => v > 0 && holding('stick-out', { stickOut: v }),
        )}
        {length(
          'Grip',
          job.holding.grip,
          'Length of bar that the jaws hold.',
          (v) => v > 0 && holding('grip', { grip: v }),
        )}
        {job.holding.jaws.steps.map((s, i) => (
          <div key={i}>
            {length(
              `Step ${i + 1} length`,
              s.length,
              'How far the jaw’s step reaches back.',
              (v) =>
                v > 0 &&
                holding('jaw step', {
                  jaws: {
                    ...job.holding.jaws,
                    steps: job.holding.jaws.steps.map((k, n) => (n === i ? { ...k, length: v } : k)),
                  },
                }),
            )}
            {length(
              `Step ${i + 1} height`,
              s.height,
              'How high the step stands above the bar.',
              (v) =>
                v > 0 &&
                holding('jaw step', {
                  jaws: {
                    ...job.holding.jaws,
                    steps: job.holding.jaws.steps.map((k, n) => (n === i ? { ...k, height: v } : k)),
                  },
                }),
            )}
          </div>
        ))}
        <Row label="Jaw length" unit={u}>
          <span className="num w-20 text-right text-soft">{formatLength(jawLength(job.holding), unit)}</span>
        </Row>
      </Section>
      <Section title="Zero and safety">
        <Row label="Work offset">
          <Choice
            label="Work offset"
            className="w-20"
            value={job.holding.workOffset}
            options={['G54', 'G55', 'G56', 'G57', 'G58', 'G59'].map((v) => ({ value: v, label: v }))}
            onChange={(v) => holding('work offset', { workOffset: v as 'G54' })}
          />
        </Row>
        {length(
          'Safe distance',
          job.holding.safeDistance,
          'No rapid comes closer to metal than this; every cut begins this far outside.',
          (v) => v > 0.05 && holding('safe distance', { safeDistance: v }),
        )}
        {length(
          'Tool change ⌀',
          job.holding.toolChange.diameter,
          'Where the tip stands when the turret turns.',
          (v) => v > 0 && holding('tool change', { toolChange: { ...job.holding.toolChange, diameter: v } }),
        )}
        {length('Tool change Z', job.holding.toolChange.z, 'Where the tip stands when the turret turns.', (v) =>
          holding('tool change', { toolChange: { ...job.holding.toolChange, z: v } }),
        )}
        <Row label="Speed limit" help="Greatest spindle speed for this job, for chuck and bar." unit="rev/min">
          <NumberField
            label="Speed limit"
            value={job.holding.maxSpeed}
            step={100}
            onChange={(v) => v !== null && v > 0 && holding('speed limit', { maxSpeed: v })}
          />
        </Row>
      </Section>
    </div>
  );
};
