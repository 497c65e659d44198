import type { CuttingOperation, Field } from '@/core/operations';
import { Choice, type Formula, NumberField, Row, Toggle } from '../kit/controls';
import { readPath } from '../kit/paths';

/** One number, choice or switch of an operation, as its kind describes it. */
export const FieldRow = ({
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
