'use client';
import { isSevering } from '@/core/operations';
import { cutoffBladeIn, pitchOf, type Repeat, repeatOf, stickOutYield } from '@/core/plan';
import { formatLength } from '@/core/units';
import { useDocument } from '../job/document';
import { useHeld } from '../job/holding';
import { changeBar } from '../job/holdings';
import { changeRepeat, mayRepeatParts, partsRepeat, setParts, setTimes } from '../job/repeats';
import { useSelection } from '../job/selection';
import { Button, Choice, NumberField, Row, Section } from '../kit/controls';
import { useUnit } from '../kit/units';

/** How often anything may run. */
const MOST_TIMES = 200;

/** A whole number of times. */
const Whole = ({
  label,
  help,
  value,
  onChange,
}: {
  label: string;
  help: string;
  value: number;
  onChange: (v: number) => void;
}) => (
  <Row label={label} help={help}>
    <NumberField
      label={label}
      value={value}
      step={1}
      onChange={(v) => v !== null && Number.isInteger(v) && v >= 1 && v <= MOST_TIMES && onChange(v)}
    />
  </Row>
);

const Fields = ({ repeat, pitch }: { repeat: Repeat; pitch: number | null }) => {
  const unit = useUnit();
  const u = unit === 'inch' ? 'in' : 'mm';
  return (
    <>
      <Row label="Pitch" unit={u} help="From one to the next. Empty: part, blade, what is left and what is faced off.">
        <NumberField
          label="Pitch"
          unit={unit}
          value={repeat.pitch}
          optional={pitch === null ? 'type it' : formatLength(pitch, unit)}
          onChange={(v) => changeRepeat(repeat.id, 'pitch', { pitch: v })}
        />
      </Row>
      <Whole
        label="Begin with number"
        help="Work that was broken off goes on there."
        value={repeat.first}
        onChange={(v) => changeRepeat(repeat.id, 'begin with', { first: v })}
      />
      <Row label="Order" help="All of one before the next; or each operation at all places, with fewer tool changes.">
        <Choice
          label="Order of the times"
          className="w-28"
          value={repeat.by}
          options={[
            { value: 'part', label: 'one by one' },
            { value: 'tool', label: 'by tool' },
          ]}
          onChange={(v) => changeRepeat(repeat.id, 'order', { by: v as Repeat['by'] })}
        />
      </Row>
      <Row label="Zero" help="One work offset for all, or one for each, set by the operator.">
        <Choice
          label="Zero of the times"
          className="w-28"
          value={repeat.zeros}
          options={[
            { value: 'one', label: 'one for all' },
            { value: 'each', label: 'one for each' },
          ]}
          onChange={(v) => changeRepeat(repeat.id, 'zeros', { zeros: v as Repeat['zeros'] })}
        />
      </Row>
      {repeat.zeros === 'one' && (
        <Row label="Posted" help="Every time written out, or once as a sub-program that the zero is moved for.">
          <Choice
            label="Posted"
            className="w-28"
            value={repeat.output}
            options={[
              { value: 'moves', label: 'written out' },
              { value: 'sub-program', label: 'sub-program' },
            ]}
            onChange={(v) => changeRepeat(repeat.id, 'in the program', { output: v as Repeat['output'] })}
          />
        </Row>
      )}
    </>
  );
};

/** How many parts come from one stick-out of a bar. */
export const PartsSection = ({ holding }: { holding: string }) => {
  const job = useDocument((s) => s.job);
  const held = useHeld();
  const { stock } = job.holdings[holding];
  if (stock.form !== 'bar') return null;
  const repeat = partsRepeat(job, holding);
  const blade = cutoffBladeIn(job, holding);
  const region = held?.part.region ?? [];
  const pitch = repeat ? pitchOf(job, repeat, region, blade.width) : null;
  const count = repeat?.count ?? 1;
  const say = repeat && pitch !== null ? stickOutYield(job, repeat, region, blade, pitch) : null;
  return (
    <Section title="Parts in one stick-out">
      {mayRepeatParts(job, holding) ? (
        <Whole
          label="Parts"
          help="Everything of this side runs once for each part, the next one further toward the chuck."
          value={count}
          onChange={(v) => setParts(holding, v)}
        />
      ) : (
        <p className="text-soft">A cutoff has to take the part off first.</p>
      )}
      {say && (
        <p className="num mb-1 text-soft" data-testid="parts-fit">
          {say.fits} fit in {formatLength(stock.stickOut, job.units)}; up to {say.steady} before the bar wants support
        </p>
      )}
      {say && say.fits !== count && say.needed(count) !== stock.stickOut && (
        <Button
          tone="quiet"
          className="-ml-2 !text-woad"
          onClick={() => changeBar(holding, 'stick-out', { stickOut: say.needed(count) })}
        >
          stick-out {formatLength(say.needed(count), job.units)} for {count}
        </Button>
      )}
      {repeat && <Fields repeat={repeat} pitch={pitch} />}
    </Section>
  );
};

/** How often one operation runs along Z. */
export const RepeatSection = ({ id }: { id: string }) => {
  const job = useDocument((s) => s.job);
  const set = useSelection((s) => s.set);
  const repeat = repeatOf(job, id);
  const parts = repeat ? partsRepeat(job, job.operations[id].holding)?.id === repeat.id : false;
  if (!repeat && isSevering(job.operations[id])) return null;
  return (
    <Section title="Repeat along Z">
      {repeat && parts ? (
        <p>
          Runs {repeat.count} times, once for each part.{' '}
          <button type="button" className="text-woad underline" onClick={() => set({ phase: 'hold' })}>
            Parts in Hold
          </button>
        </p>
      ) : (
        <>
          <Whole
            label="Times"
            help="How often it runs, each time one pitch further toward the chuck."
            value={repeat?.count ?? 1}
            onChange={(v) => setTimes(id, v)}
          />
          {repeat && <Fields repeat={repeat} pitch={null} />}
        </>
      )}
    </Section>
  );
};
