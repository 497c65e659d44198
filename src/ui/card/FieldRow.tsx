import { memo } from 'react';
import { deviceCalls } from '@/core/dialects';
import { type Field, isCutting } from '@/core/operations';
import { type Job, secondTools, stationOf } from '@/core/plan';
import type { Tool } from '@/core/tooling';
import { formatLength } from '@/core/units';
import { useDocument } from '../job/document';
import { changeOperation, formulaOfOperation } from '../job/edits';
import { type Changed, Choice, type Formula, NumberField, Row, TextField, Toggle } from '../kit/controls';
import { readPath } from '../kit/paths';
import { rateUnit, rateWord } from '../kit/units';
import { lookAt } from './Explain';
import { ElementsField, SpansField } from './SpanFields';

interface Shown {
  readonly id: string;
  readonly field: Field;
  readonly unit: 'mm' | 'inch';
  readonly value: unknown;
  /** Formula in the place of the number, with the lengths that it may name. */
  readonly text: string | null;
  readonly names: ReadonlyMap<string, number>;
  /** The value that a new operation would begin with, and where that comes from. */
  readonly began?: unknown;
  readonly source?: string;
}

export const sameValue = (a: unknown, b: unknown): boolean =>
  typeof a === 'number' && typeof b === 'number' ? Math.abs(a - b) < 1e-9 : a === b;

/** Whether a field has a meaning with the other values of its operation. */
export const isShown = (op: unknown, { showWhen }: Field): boolean => {
  if (!showWhen) return true;
  const value = readPath(op, showWhen.key);
  return 'is' in showWhen ? value === showWhen.is : value !== showWhen.isNot;
};

/** A value as the card would show it. */
const wordsOf = (field: Field, value: unknown, unit: 'mm' | 'inch'): string => {
  if (value === null || value === undefined || value === '')
    return field.input.kind === 'length' ? (field.input.optional ?? 'empty') : 'empty';
  if (field.input.kind === 'choice') return field.input.options.find((o) => o.value === value)?.label ?? String(value);
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (field.input.kind === 'length' && typeof value === 'number') return formatLength(value, unit);
  if (field.input.kind === 'number' && typeof value === 'number')
    return rateWord(value, rateUnit(field.input.unit, field.input.step, unit));
  return String(value);
};

/** Tools to choose from, each with its station. */
export const toolOptions = (job: Job, tools: readonly Tool[]): { value: string; label: string }[] =>
  tools.map((t) => ({ value: t.id, label: `T${stationOf(job, t.id) ?? '–'}  ${t.name}` }));

const NONE = '-';

/** What the machine's codes can ask of its devices. */
const DeviceActionRow = ({
  field,
  value,
  onChange,
}: {
  readonly field: Field;
  readonly value: string;
  readonly onChange: (v: unknown) => void;
}) => {
  const machine = useDocument((s) => s.job.machine);
  const calls = deviceCalls(machine);
  const known = calls.some((c) => c.name === value);
  return (
    <Row label={field.label} help={field.help}>
      <Choice
        label={field.label}
        className="w-[11.5rem]"
        value={value || NONE}
        onChange={(v) => onChange(v === NONE ? '' : v)}
        options={[
          ...(value === '' ? [{ value: NONE, label: 'choose' }] : []),
          ...(value !== '' && !known ? [{ value, label: value }] : []),
          ...calls.map((c) => ({ value: c.name, label: c.code ? `${c.name} ${c.code}` : `${c.name}, no code yet` })),
        ]}
      />
    </Row>
  );
};

/** The tool of another carrier that takes the same passes; nothing where no other carrier comes to this work. */
const SecondToolRow = ({
  id,
  field,
  value,
  onChange,
}: {
  readonly id: string;
  readonly field: Field;
  readonly value: unknown;
  readonly onChange: (v: unknown) => void;
}) => {
  const job = useDocument((s) => s.job);
  const op = job.operations[id];
  if (!op || !isCutting(op)) return null;
  const tools = secondTools(job, op);
  if (tools.length === 0 && !value) return null;
  const known = tools.some((t) => t.id === value);
  return (
    <Row label={field.label} help={field.help}>
      <Choice
        label={field.label}
        className="w-[11.5rem]"
        value={String(value ?? NONE)}
        onChange={(v) => onChange(v === NONE ? null : v)}
        options={[
          { value: NONE, label: 'none' },
          ...(value && !known
            ? [{ value: String(value), label: job.tools[String(value)]?.name ?? String(value) }]
            : []),
          ...toolOptions(job, tools),
        ]}
      />
    </Row>
  );
};

/** One number, choice or switch of an operation, as its kind describes it; drawn again only when it has changed. */
export const FieldRow = memo((shown: Shown) => {
  const look = (): void => lookAt(shown.field.key);
  return (
    <div onPointerEnter={look} onFocusCapture={look}>
      <Input {...shown} />
    </div>
  );
});

const Input = ({ id, field, unit, value, text, names, began, source }: Shown) => {
  const onChange = (v: unknown): void => changeOperation(id, field.label, field.key, v);
  const formula: Formula = {
    text,
    names,
    onFormula: (f) => formulaOfOperation(id, field.label, field.key, f),
  };
  const changed: Changed | null =
    source === undefined || (text === null && sameValue(began, value))
      ? null
      : { began: wordsOf(field, began, unit), source, onReset: () => onChange(began) };
  switch (field.input.kind) {
    case 'length':
      return (
        <Row
          label={field.label}
          help={field.help}
          changed={changed}
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
    case 'number': {
      const rate = rateUnit(field.input.unit, field.input.step, unit);
      return (
        <Row label={field.label} help={field.help} unit={rate.unit} changed={changed}>
          <NumberField
            label={field.label}
            value={value as number}
            step={rate.step}
            scale={rate.scale}
            formula={formula}
            onChange={(v) => v !== null && onChange(v)}
          />
        </Row>
      );
    }
    case 'choice':
      return (
        <Row label={field.label} help={field.help} changed={changed}>
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
        <Row label={field.label} help={field.help} changed={changed}>
          <Toggle label={field.label} on={Boolean(value)} onChange={onChange} />
        </Row>
      );
    case 'text':
      return (
        <Row label={field.label} help={field.help} changed={changed}>
          <TextField
            label={field.label}
            className="w-28"
            value={String(value ?? '')}
            placeholder={field.input.placeholder}
            onChange={onChange}
          />
        </Row>
      );
    case 'second-tool':
      return <SecondToolRow id={id} field={field} value={value} onChange={onChange} />;
    case 'device-action':
      return <DeviceActionRow field={field} value={String(value ?? '')} onChange={onChange} />;
    case 'spans':
      return <SpansField id={id} field={field} />;
    case 'elements':
      return <ElementsField id={id} field={field} />;
    default:
      return field.input satisfies never;
  }
};
