'use client';
import { useMemo } from 'react';
import { type Purpose, spindleSpeed, surfaceSpeedAt } from '@/core/cutting';
import { type Field, isCutting, kindOf, type Speed } from '@/core/operations';
import { dimensionNames, operationNames, startingValues, takesTool, withFormulas } from '@/core/plan';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { changeOperation, formulaOfOperation } from '../job/edits';
import { useHeld } from '../job/holding';
import { greatestDiameter } from '../job/holdings';
import { type Changed, Choice, type Formula, NumberField, Row, Section, Toggle } from '../kit/controls';
import { readPath } from '../kit/paths';
import { cuttingRates, type RateUnit, rateWord, useUnit } from '../kit/units';
import { ActorCard } from './ActorCard';
import { CardHead, CommentSection, LoadSection, SpeedReached } from './CardHead';
import { Explain } from './Explain';
import { FieldRow, isShown, sameValue, toolOptions } from './FieldRow';
import { RepeatSection } from './RepeatFields';

const PURPOSE_WORDS: Readonly<Record<Purpose, string>> = {
  rough: 'roughing',
  finish: 'finishing',
  groove: 'grooving',
  cutoff: 'cutting off',
  thread: 'threading',
  drill: 'drilling',
  ream: 'reaming',
  tap: 'tapping',
};

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
  const unit = useUnit();
  const held = useHeld();
  const op = job.operations[id];
  const names = useMemo(
    () => operationNames(held?.part ?? null, dimensionNames(job.part.dimensions, job.units)),
    [held?.part, job.part.dimensions, job.units],
  );
  if (!op) return null;
  if (!isCutting(op)) return <ActorCard op={op} />;
  const info = kindOf(op);
  const began = startingValues(job, op, op.tool ? (job.tools[op.tool] ?? null) : null);
  const settled = withFormulas(op, names, job.units).op;
  const tools = Object.values(job.tools).filter((t) => takesTool(job, info.tools, t));
  const change = (label: string, path: string, value: unknown): void => changeOperation(id, label, path, value);
  const formulaFor = (label: string, path: string): Formula => ({
    text: op.formulas?.[path] ?? null,
    names,
    onFormula: (text) => formulaOfOperation(id, label, path, text),
  });
  const shown = (f: Field): boolean => isShown(op, f);
  const source = `${PURPOSE_WORDS[info.purpose]} ${job.material.name}`;
  /** Whether a number of the cutting data is another one than the table has, and the way back. */
  const changed = (label: string, path: string, rate: RateUnit): Changed | null => {
    const first = began && readPath(began, path);
    if (typeof first !== 'number' || sameValue(first, readPath(op, path))) return null;
    return { began: rateWord(first, rate), source, onReset: () => change(label, path, first) };
  };
  const { speed } = settled.cutting;
  const surface = speed.mode === 'surface';
  const { feed: feeds, speed: speeds } = cuttingRates(speed.mode, unit);
  return (
    <div data-testid="operation-card">
      <CardHead op={op} change={change} />
      <Section title="Tool and speed">
        <Row label="Tool">
          <Choice
            label="Tool"
            className="w-[11.5rem]"
            value={op.tool ?? ''}
            onChange={(v) => change('Tool', 'tool', v)}
            options={toolOptions(job, tools)}
          />
        </Row>
        <Row
          label={surface ? 'Surface speed' : 'Spindle speed'}
          help="Constant surface speed changes the spindle with the diameter; fixed keeps one speed."
          unit={speeds.unit}
          changed={began?.cutting.speed.mode === speed.mode ? changed('Speed', 'cutting.speed.value', speeds) : null}
        >
          <NumberField
            label={surface ? 'Surface speed' : 'Spindle speed'}
            value={speed.value}
            formula={formulaFor('Speed', 'cutting.speed.value')}
            onChange={(v) => v !== null && change('Speed', 'cutting.speed.value', v)}
            step={speeds.step}
            scale={speeds.scale}
          />
        </Row>
        <SpeedReached id={id} />
        {!info.leads && (
          <Row label="Feed" unit={feeds.unit} changed={changed('Feed', 'cutting.feed', feeds)}>
            <NumberField
              label="Feed"
              value={settled.cutting.feed}
              formula={formulaFor('Feed', 'cutting.feed')}
              onChange={(v) => v !== null && change('Feed', 'cutting.feed', v)}
              step={feeds.step}
              scale={feeds.scale}
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
      <Explain
        op={settled}
        fields={GROUPS.flatMap((g) => info.fields.filter((f) => f.group === g && shown(f)))}
        tool={op.tool ? (job.tools[op.tool] ?? null) : null}
        unit={unit}
      />
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
                unit={unit}
                value={readPath(settled, f.key)}
                began={began && readPath(began, f.key)}
                source={began ? source : undefined}
                text={op.formulas?.[f.key] ?? null}
                names={names}
              />
            ))}
          </Section>
        );
      })}
      <RepeatSection id={id} />
      <LoadSection op={op} />
      <CommentSection op={op} />
    </div>
  );
};
