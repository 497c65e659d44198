'use client';
import { useMemo } from 'react';
import { spindleSpeed, surfaceSpeedAt } from '@/core/cutting';
import { type Field, isCutting, kindOf, type Speed } from '@/core/operations';
import { dimensionNames, stationOf, withFormulas } from '@/core/plan';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { changeOperation, formulaOfOperation } from '../job/edits';
import { useHeld } from '../job/holding';
import { greatestDiameter } from '../job/holdings';
import { Choice, type Formula, NumberField, Row, Section, Toggle } from '../kit/controls';
import { readPath } from '../kit/paths';
import { ActorCard } from './ActorCard';
import { CardHead, CommentSection, LoadSection, SpeedReached } from './CardHead';
import { FieldRow } from './FieldRow';

const GROUPS = ['Thread', 'Cut', 'Depth', 'Edge', 'Span ends', 'Output'] as const;

/** Largest diameter that an operation cuts, mm. */
const widest = (id: string): number | undefined =>
  useDerived.getState().view?.operations.find((o) => o.id === id)?.load?.diameterMax;

/** The same speed said in the other way, at the diameter where the cut is widest. */
const inMode = (speed: Speed, mode: string, diameter: number): Speed => {
  if (mode === speed.mode) return speed;
  const d = Math.max(diameter, 1);
  return speed.mode === 'surface'
    ? { mode: 'fixed', value: Math.max(1, Math.round(spindleSpeed(speed.value, d))) }
    : { mode: 'surface', value: Math.max(1, Math.round(surfaceSpeedAt(speed.value, d))), clamp: null };
};

/** Everything about one operation. What is derived stands in parts of its own, so that its fields need not be drawn with it. */
export const OperationCard = ({ id }: { id: string }) => {
  const job = useDocument((s) => s.job);
  const held = useHeld();
  const op = job.operations[id];
  const names = useMemo(() => dimensionNames(job.part.dimensions, job.units), [job.part.dimensions, job.units]);
  if (!op) return null;
  if (!isCutting(op)) return <ActorCard op={op} />;
  const info = kindOf(op);
  const settled = withFormulas(op, names, job.units).op;
  const tools = Object.values(job.tools).filter((t) => info.tools.includes(t.kind));
  const change = (label: string, path: string, value: unknown): void => changeOperation(id, label, path, value);
  const formulaFor = (label: string, path: string): Formula => ({
    text: op.formulas?.[path] ?? null,
    names,
    onFormula: (text) => formulaOfOperation(id, label, path, text),
  });
  const shown = (f: Field): boolean => !f.showWhen || readPath(op, f.showWhen.key) === f.showWhen.is;
  const { speed } = settled.cutting;
  const surface = speed.mode === 'surface';
  return (
    <div data-testid="operation-card">
      <CardHead op={op} change={change} />
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
        <SpeedReached id={id} />
        {!info.leads && (
          <Row label="Feed" unit="mm/rev">
            <NumberField
              label="Feed"
              value={settled.cutting.feed}
              formula={formulaFor('Feed', 'cutting.feed')}
              onChange={(v) => v !== null && change('Feed', 'cutting.feed', v)}
              step={0.01}
            />
          </Row>
        )}
        <Row label="Speed mode">
          <Choice
            label="Speed mode"
            className="w-28"
            value={speed.mode}
            onChange={(v) =>
              change('Speed mode', 'cutting.speed', inMode(speed, v, widest(id) ?? greatestDiameter(held) ?? 20))
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
                id={id}
                field={f}
                unit={job.units}
                value={readPath(settled, f.key)}
                text={op.formulas?.[f.key] ?? null}
                names={names}
              />
            ))}
          </Section>
        );
      })}
      <LoadSection op={op} />
      <CommentSection op={op} />
    </div>
  );
};
