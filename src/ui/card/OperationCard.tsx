'use client';
import { Copy, Eye, EyeOff, Play, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { spindleSpeed, surfaceSpeedAt } from '@/core/cutting';
import { type CuttingOperation, type Field, isCutting, kindOf, type Speed } from '@/core/operations';
import { dimensionNames, stationOf, withFormulas } from '@/core/plan';
import { toolFacts } from '@/core/tooling';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { copyOperation, removeOperation, setOperation } from '../job/edits';
import { useSelection } from '../job/selection';
import { Choice, type Formula, IconButton, NumberField, Row, Section, TextField, Toggle } from '../kit/controls';
import { readPath, writePath } from '../kit/paths';
import { longSeconds, StateMark } from '../kit/state';
import { FindingList } from './Findings';

const GROUPS = ['Cut', 'Depth', 'Edge', 'Span ends', 'Output'] as const;

const Bar = ({ share }: { share: number }) => (
  <span className="h-1 w-24 shrink-0 rounded bg-hair">
    <span
      className="block h-1 rounded"
      style={{
        width: `${Math.min(1, share) * 100}%`,
        background: share > 1 ? 'var(--color-madder)' : 'var(--color-woad)',
      }}
    />
  </span>
);

const LoadRow = ({ label, share, text }: { label: string; share: number; text: string }) => (
  <div className="flex h-7 items-center gap-2">
    <span className="min-w-0 flex-1 truncate">{label}</span>
    <Bar share={share} />
    <span className="num w-24 shrink-0 text-right">{text}</span>
  </div>
);

/** The same speed said in the other way, at the diameter where the cut is widest. */
const inMode = (speed: Speed, mode: string, diameter: number): Speed => {
  if (mode === speed.mode) return speed;
  const d = Math.max(diameter, 1);
  return speed.mode === 'surface'
    ? { mode: 'fixed', value: Math.max(1, Math.round(spindleSpeed(speed.value, d))) }
    : { mode: 'surface', value: Math.max(1, Math.round(surfaceSpeedAt(speed.value, d))), clamp: null };
};

export const OperationCard = ({ id }: { id: string }) => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const set = useSelection((s) => s.set);
  const op = job.operations[id];
  if (!op || !isCutting(op)) return null;
  const d = derived?.operations.find((o) => o.id === id);
  const info = kindOf(op);
  const names = dimensionNames(job.part.dimensions, job.units);
  const settled = withFormulas(op, names, job.units).op;
  const tools = Object.values(job.tools).filter((t) => info.tools.includes(t.kind));
  const change = (label: string, path: string, value: unknown): void =>
    setOperation(id, `${label.toLowerCase()} of ${op.name}`, (o) => {
      writePath(o, path, value);
      // a number in the place of a formula replaces it
      if (isCutting(o) && o.formulas) delete o.formulas[path];
    });
  const formulaFor = (label: string, path: string): Formula => ({
    text: op.formulas?.[path] ?? null,
    names,
    onFormula: (text) =>
      setOperation(id, `formula for ${label.toLowerCase()} of ${op.name}`, (o) => {
        if (isCutting(o)) o.formulas = { ...o.formulas, [path]: text };
      }),
  });
  const station = op.tool ? stationOf(job, op.tool) : null;
  const shown = (f: Field): boolean => !f.showWhen || readPath(op, f.showWhen.key) === f.showWhen.is;
  const { speed } = settled.cutting;
  const surface = speed.mode === 'surface';
  const load = d?.load;
  const slender = op.tool && job.tools[op.tool] ? toolFacts(job.tools[op.tool]).slender : null;
  return (
    <div data-testid="operation-card">
      <div className="border-b border-hair p-3">
        <div className="flex items-start gap-2">
          <span className="mt-0.5 h-9 w-1.5 shrink-0 rounded bg-woad" />
          <div className="min-w-0 flex-1">
            <TextField
              label="Name of the operation"
              className="w-full !border-transparent !bg-transparent !px-0 text-[15px] font-semibold hover:!border-hair"
              value={op.name}
              onChange={(v) => change('Name', 'name', v.slice(0, 120))}
            />
            <div className="truncate text-soft">
              {info.label} · {station === null ? 'no station' : `T${station}`} · channel {op.channel}
            </div>
          </div>
          {d && <StateMark state={d.state} />}
        </div>
        <div className="mt-1.5 flex items-center">
          <IconButton
            label="Play this operation (P)"
            onClick={() => d && set({ time: d.times.start, playing: true, stopAt: d.times.end })}
            disabled={!d?.moves}
          >
            <Play size={14} />
          </IconButton>
          <IconButton
            label={op.on ? 'Switch off' : 'Switch on'}
            onClick={() => change(op.on ? 'Switch off' : 'Switch on', 'on', !op.on)}
          >
            {op.on ? <Eye size={14} /> : <EyeOff size={14} />}
          </IconButton>
          <IconButton label="Copy" onClick={() => copyOperation(id)}>
            <Copy size={14} />
          </IconButton>
          <IconButton
            label="Delete"
            onClick={() => {
              removeOperation(id);
              toast(`“${op.name}” is deleted.`, {
                action: { label: 'Undo', onClick: () => useDocument.getState().undo() },
              });
            }}
          >
            <Trash2 size={14} />
          </IconButton>
          <span className="flex-1" />
          {d && d.times.end > d.times.start && (
            <span className="num text-soft">{longSeconds(d.times.cutting + d.times.rapid + d.times.other)}</span>
          )}
        </div>
        {d && <FindingList findings={d.findings} />}
      </div>
      <Section title="Tool and speed">
        <Row label="Tool">
          <Choice
            label="Tool"
            className="w-[11.5rem] -mr-[4.6rem]"
            value={op.tool ?? ''}
            onChange={(v) => change('Tool', 'tool', v)}
            options={tools.map((t) => ({ value: t.id, label: `T${stationOf(job, t.id) ?? '–'}  ${t.name}` }))}
          />
        </Row>
        <Row
          label={surface ? 'Surface speed' : 'Spindle speed'}
          help="Constant surface speed changes the spindle with the diameter; fixed keeps one speed."
          unit={surface ? 'm/min' : 'rev/min'}
        >
          <NumberField
            label={surface ? 'Surface speed' : 'Spindle speed'}
            value={speed.value}
            formula={formulaFor('Speed', 'cutting.speed.value')}
            onChange={(v) => v !== null && change('Speed', 'cutting.speed.value', v)}
            step={10}
          />
        </Row>
        {load && (
          <div className="num -mt-0.5 mb-0.5 pr-[5.1rem] text-right text-soft">
            {Math.round(load.speedMin) === Math.round(load.speedMax)
              ? Math.round(load.speedMax)
              : `${Math.round(load.speedMin)}–${Math.round(load.speedMax)}`}{' '}
            rev/min
          </div>
        )}
        <Row label="Feed" unit="mm/rev">
          <NumberField
            label="Feed"
            value={settled.cutting.feed}
            formula={formulaFor('Feed', 'cutting.feed')}
            onChange={(v) => v !== null && change('Feed', 'cutting.feed', v)}
            step={0.01}
          />
        </Row>
        <Row label="Speed mode">
          <Choice
            label="Speed mode"
            className="w-28"
            value={speed.mode}
            onChange={(v) =>
              change('Speed mode', 'cutting.speed', inMode(speed, v, load?.diameterMax ?? job.stock.diameter))
            }
            options={[
              { value: 'surface', label: 'surface' },
              { value: 'fixed', label: 'fixed' },
            ]}
          />
        </Row>
        <Row label="Coolant">
          <Toggle label="Coolant" on={op.cutting.coolant} onChange={(v) => change('Coolant', 'cutting.coolant', v)} />
        </Row>
      </Section>
      {GROUPS.map((group) => {
        const fields = info.fields.filter((f) => f.group === group && shown(f));
        if (fields.length === 0) return null;
        return (
          <Section key={group} title={group}>
            {fields.map((f) => (
              <FieldRow
                key={f.key}
                field={f}
                op={settled}
                unit={job.units}
                onChange={(v) => change(f.label, f.key, v)}
                formula={formulaFor(f.label, f.key)}
              />
            ))}
          </Section>
        );
      })}
      {load && (
        <Section title="Load">
          <LoadRow
            label="Power"
            share={load.power / load.available}
            text={`${load.power.toFixed(1)} of ${load.available} kW`}
          />
          <LoadRow label="Force" share={load.force / 6000} text={`${Math.round(load.force)} N`} />
          {slender && (
            <LoadRow label="Overhang" share={slender.ratio / slender.most} text={`${slender.ratio.toFixed(1)} × ⌀`} />
          )}
        </Section>
      )}
      <Section title="Comment in the program">
        <TextField
          label="Comment in the program"
          className="w-full"
          value={op.note}
          onChange={(v) => change('Comment', 'note', v.slice(0, 400))}
          placeholder="for the operator"
        />
      </Section>
    </div>
  );
};

const FieldRow = ({
  field,
  op,
  unit,
  onChange,
  formula,
}: {
  field: Field;
  op: CuttingOperation;
  unit: 'mm' | 'inch';
  onChange: (v: unknown) => void;
  formula: Formula;
}) => {
  const value = readPath(op, field.key);
  switch (field.input.kind) {
    case 'length':
      return (
        <Row
          label={field.label}
          help={field.help}
          unit={`${unit === 'inch' ? 'in' : 'mm'}${field.input.per === 'side' ? ' side' : field.input.per === 'diameter' ? ' ⌀' : ''}`}
        >
          <NumberField
            label={field.label}
            unit={unit}
            value={value as number | null}
            optional={field.input.optional}
            formula={formula}
            onChange={(v) => (v !== null || field.input.kind === 'length') && onChange(v)}
            width={field.input.optional ? 'w-24' : 'w-20'}
          />
        </Row>
      );
    case 'number':
      return (
        <Row label={field.label} help={field.help} unit={field.input.unit}>
          <NumberField
            label={field.label}
            value={value as number}
            step={field.input.step}
            formula={formula}
            onChange={(v) => v !== null && onChange(v)}
          />
        </Row>
      );
    case 'choice':
      return (
        <Row label={field.label} help={field.help}>
          <Choice
            label={field.label}
            className="w-28"
            value={String(value)}
            options={field.input.options}
            onChange={onChange}
          />
        </Row>
      );
    case 'toggle':
      return (
        <Row label={field.label} help={field.help}>
          <Toggle label={field.label} on={Boolean(value)} onChange={onChange} />
        </Row>
      );
    default:
      return field.input satisfies never;
  }
};
