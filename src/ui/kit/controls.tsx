'use client';
import { Check, ChevronDown, RotateCcw, Ruler } from 'lucide-react';
import { Select as RadixSelect, Switch as RadixSwitch, Tooltip as RadixTooltip } from 'radix-ui';
import { type ButtonHTMLAttributes, type ReactNode, useEffect, useId, useRef, useState } from 'react';
import { evaluateLength, evaluateNumber, formatLength, type LengthUnit, type Names, namesIn } from '@/core/units';
import { useDocument } from '../job/document';
import { useMeasure } from '../measure/store';
import { rateWord } from './units';

const cx = (...names: (string | false | null | undefined)[]): string => names.filter(Boolean).join(' ');

type Tone = 'primary' | 'plain' | 'quiet' | 'danger';

const TONES: Record<Tone, string> = {
  primary: 'bg-woad text-white border-woad hover:bg-[var(--color-woad-dark)]',
  plain: 'bg-white text-ink border-hair hover:border-soft',
  quiet: 'bg-transparent text-ink border-transparent hover:bg-linen',
  danger: 'bg-white text-madder border-madder hover:bg-madder-pale',
};

export const Button = ({
  tone = 'plain',
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { tone?: Tone }) => (
  <button
    type="button"
    className={cx(
      'inline-flex h-7 items-center justify-center gap-1.5 whitespace-nowrap rounded border px-2.5 disabled:opacity-45',
      TONES[tone],
      className,
    )}
    {...rest}
  />
);

/** A button with only a picture; its word is the tooltip and the accessible name. */
export const IconButton = ({
  label,
  children,
  className,
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { label: string; children: ReactNode }) => (
  <Hint text={label}>
    <button
      type="button"
      aria-label={label}
      className={cx(
        'inline-flex h-7 w-7 shrink-0 items-center justify-center rounded border border-transparent hover:border-hair hover:bg-white disabled:opacity-40',
        className,
      )}
      {...rest}
    >
      {children}
    </button>
  </Hint>
);

export const Hint = ({ text, children }: { text: string; children: ReactNode }) => (
  <RadixTooltip.Root delayDuration={350}>
    <RadixTooltip.Trigger asChild>{children}</RadixTooltip.Trigger>
    <RadixTooltip.Portal>
      <RadixTooltip.Content
        sideOffset={5}
        className="z-50 max-w-64 rounded border border-hair bg-ink px-2 py-1 text-white"
      >
        {text}
      </RadixTooltip.Content>
    </RadixTooltip.Portal>
  </RadixTooltip.Root>
);

/** A formula in a field: text with names of dimensions. */
export interface Formula {
  readonly text: string | null;
  readonly names: Names;
  readonly onFormula: (text: string) => void;
}

export interface NumberFieldProps {
  readonly value: number | null;
  /** Takes the number; false when it is not taken, and the field shows the old one again. */
  // biome-ignore lint/suspicious/noConfusingVoidType: most callers take what comes and say nothing
  readonly onChange: (value: number | null) => void | boolean;
  readonly unit?: LengthUnit | null;
  /** For a rate: how much of it as it is kept is one as it is shown. Formulas count in what is kept, whoever reads them. */
  readonly scale?: number;
  /** Shown greyed when empty is allowed and nothing is typed. */
  readonly optional?: string;
  readonly step?: number;
  readonly label: string;
  readonly width?: string;
  readonly id?: string;
  readonly bad?: boolean;
  /** Lets the field take formulas with named dimensions. */
  readonly formula?: Formula;
}

/**
 * Number with arithmetic and units. Enter or leaving takes the value, Esc restores it, arrow keys step; what cannot be
 * read is told beside the field and the old value stays.
 */
export const NumberField = ({
  value,
  onChange,
  unit = null,
  scale = 1,
  optional,
  step = unit ? 0.1 : 1,
  label,
  width = 'w-20',
  id,
  bad,
  formula,
}: NumberFieldProps) => {
  const jobUnit = useDocument((s) => s.job?.units ?? 'mm');
  const wordOf = (v: number): string => (unit ? formatLength(v, unit) : rateWord(v, { scale }));
  const plain = value === null ? '' : wordOf(value);
  const [focused, setFocused] = useState(false);
  // a formula shows what it gives, and itself while it is edited
  const shown = formula?.text != null && focused ? formula.text : plain;
  const [text, setText] = useState(shown);
  const [error, setError] = useState<string | null>(null);
  const editing = useRef(false);
  // only what was typed is taken: leaving a field must not turn its formula into a number
  const typed = useRef(false);
  const errorId = useId();
  useEffect(() => {
    if (!editing.current) setText(shown);
  }, [shown]);
  const take = (entry: string): void => {
    if (entry.trim() === '' && optional !== undefined) {
      setError(null);
      if (value !== null || formula?.text != null) onChange(null);
      return;
    }
    // a formula is kept as it is typed, and bare numbers in it are in the job's own unit whoever reads it
    const own = formula && namesIn(entry).length > 0 ? jobUnit : unit;
    const read = unit && own ? evaluateLength(entry, own, formula?.names) : evaluateNumber(entry, formula?.names);
    if (!read.ok) {
      setError(`Not a number: ${read.reason}.`);
      return;
    }
    setError(null);
    if (formula && namesIn(entry).length > 0) {
      setText(wordOf(read.value));
      if (entry.trim() !== formula.text) formula.onFormula(entry.trim());
      return;
    }
    const taken = unit || scale === 1 ? read.value : Math.round(read.value * scale * 1e6) / 1e6;
    setText(wordOf(taken));
    // a number in the place of a formula replaces it, even when it is what the formula gave
    if ((taken !== value || formula?.text != null) && onChange(taken) === false) setText(shown);
  };
  return (
    <span className="relative inline-block">
      <input
        id={id}
        aria-label={label}
        aria-invalid={error !== null || bad}
        aria-describedby={error ? errorId : undefined}
        data-bad={error !== null || bad}
        className={cx('field text-right', width)}
        value={text}
        placeholder={optional}
        inputMode="decimal"
        onFocus={(e) => {
          editing.current = true;
          setFocused(true);
          if (formula?.text != null) {
            // at once, so that what is typed next replaces the whole formula
            e.target.value = formula.text;
            setText(formula.text);
          }
          e.target.select();
        }}
        onChange={(e) => {
          typed.current = true;
          editing.current = true;
          setText(e.target.value);
        }}
        onBlur={() => {
          editing.current = false;
          setFocused(false);
          if (typed.current) take(text);
          else if (!error) setText(plain);
          typed.current = false;
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            if (typed.current) take(text);
            typed.current = false;
            // what is taken is no longer being edited: undo, and what others change, show at once
            editing.current = false;
          } else if (e.key === 'Escape') {
            typed.current = false;
            setText(shown);
            setError(null);
            e.currentTarget.select();
            e.stopPropagation();
          } else if ((e.key === 'ArrowUp' || e.key === 'ArrowDown') && value !== null) {
            e.preventDefault();
            const size = step * scale * (e.shiftKey ? 10 : 1) * (e.key === 'ArrowUp' ? 1 : -1);
            const next = Math.round((value + size) * 1e6) / 1e6;
            setText(wordOf(next));
            onChange(next);
          }
        }}
      />
      {formula?.text != null && !focused && (
        <span aria-hidden title={formula.text} className="absolute left-1 top-1 text-[11px] text-heather">
          ƒ
        </span>
      )}
      {focused && unit && (
        <button
          type="button"
          tabIndex={-1}
          aria-label="Pick from the drawing"
          title={`Pick ${label} from the drawing`}
          className="absolute left-px top-px z-20 flex h-6 w-5 items-center justify-center rounded text-woad hover:bg-woad-pale"
          // before the field loses its focus
          onPointerDown={(e) => {
            e.preventDefault();
            useMeasure.getState().forField({ label, take: (v) => onChange(Math.round(v * 1e6) / 1e6) });
          }}
        >
          <Ruler size={12} />
        </button>
      )}
      {error && (
        <span
          id={errorId}
          role="alert"
          className="absolute right-0 top-full z-20 mt-0.5 w-max max-w-56 rounded border border-madder bg-white px-1.5 py-0.5 text-madder"
        >
          {error}
        </span>
      )}
    </span>
  );
};

export const TextField = ({
  value,
  onChange,
  label,
  className,
  placeholder,
}: {
  value: string;
  onChange: (v: string) => void;
  label: string;
  className?: string;
  placeholder?: string;
}) => {
  const [text, setText] = useState(value);
  const editing = useRef(false);
  useEffect(() => {
    if (!editing.current) setText(value);
  }, [value]);
  const take = (): void => {
    if (text !== value) onChange(text);
  };
  return (
    <input
      aria-label={label}
      placeholder={placeholder}
      className={cx('field !font-text', className)}
      value={text}
      onFocus={() => {
        editing.current = true;
      }}
      onChange={(e) => {
        editing.current = true;
        setText(e.target.value);
      }}
      onBlur={() => {
        if (editing.current) take();
        editing.current = false;
      }}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          take();
          editing.current = false;
        }
        if (e.key === 'Escape') {
          setText(value);
          e.stopPropagation();
        }
      }}
    />
  );
};

/** What is wrong with a form, said where it is; nothing when all is well. */
export const FormProblem = ({ text }: { text: string | null }) =>
  text && (
    <p role="alert" className="rounded border border-madder bg-madder-pale px-2 py-1 text-madder">
      {text}
    </p>
  );

export interface Option {
  readonly value: string;
  readonly label: string;
}

export const Choice = ({
  value,
  options,
  onChange,
  label,
  className,
  placeholder = 'choose',
}: {
  value: string;
  options: readonly Option[];
  onChange: (v: string) => void;
  label: string;
  className?: string;
  placeholder?: string;
}) => (
  <RadixSelect.Root value={value} onValueChange={onChange}>
    <RadixSelect.Trigger
      aria-label={label}
      className={cx('field !font-text inline-flex items-center justify-between gap-1 overflow-hidden', className)}
    >
      <span className="truncate">
        <RadixSelect.Value placeholder={placeholder} />
      </span>
      <ChevronDown size={13} className="shrink-0 text-soft" aria-hidden />
    </RadixSelect.Trigger>
    <RadixSelect.Portal>
      <RadixSelect.Content
        position="popper"
        sideOffset={2}
        className="z-50 max-h-80 overflow-hidden rounded border border-soft bg-white"
      >
        <RadixSelect.Viewport className="p-1">
          {options.map((o) => (
            <RadixSelect.Item
              key={o.value}
              value={o.value}
              className="flex h-7 cursor-pointer items-center gap-2 rounded pl-1.5 pr-4 outline-none data-[highlighted]:bg-woad-pale"
            >
              <span className="w-3.5">
                <RadixSelect.ItemIndicator>
                  <Check size={13} />
                </RadixSelect.ItemIndicator>
              </span>
              <RadixSelect.ItemText>{o.label}</RadixSelect.ItemText>
            </RadixSelect.Item>
          ))}
        </RadixSelect.Viewport>
      </RadixSelect.Content>
    </RadixSelect.Portal>
  </RadixSelect.Root>
);

export const Toggle = ({ on, onChange, label }: { on: boolean; onChange: (v: boolean) => void; label: string }) => (
  <RadixSwitch.Root
    checked={on}
    onCheckedChange={onChange}
    aria-label={label}
    className="relative h-5 w-9 rounded-full border border-soft bg-white data-[state=checked]:border-verdigris data-[state=checked]:bg-verdigris"
  >
    <RadixSwitch.Thumb className="block h-3.5 w-3.5 translate-x-0.5 rounded-full bg-soft data-[state=checked]:translate-x-[18px] data-[state=checked]:bg-white" />
  </RadixSwitch.Root>
);

/** A value that was changed from where it began: what that was, where it comes from, and the way back to it. */
export interface Changed {
  readonly began: string;
  readonly source: string;
  readonly onReset: () => void;
}

/** A labelled row of the card: 28 px, label left, control and unit right, help on the label. */
export const Row = ({
  label,
  help,
  unit,
  changed,
  children,
}: {
  label: string;
  help?: string;
  unit?: ReactNode;
  changed?: Changed | null;
  children: ReactNode;
}) => (
  <div className="flex min-h-7 items-center gap-2 py-px">
    {help ? (
      <Hint text={help}>
        <span className="min-w-0 flex-1 cursor-help truncate" tabIndex={-1}>
          {label}
        </span>
      </Hint>
    ) : (
      <span className="min-w-0 flex-1 truncate">{label}</span>
    )}
    {changed && (
      <Hint text={`Began as ${changed.began} (${changed.source}). Click to go back to it.`}>
        <button
          type="button"
          aria-label={`${label} back to ${changed.began}`}
          className="-mx-1 flex h-5 w-4 shrink-0 items-center justify-center rounded text-woad hover:bg-woad-pale"
          onClick={changed.onReset}
        >
          <RotateCcw size={11} />
        </button>
      </Hint>
    )}
    {children}
    {unit !== undefined && <span className="num w-[3.7rem] shrink-0 whitespace-nowrap text-soft">{unit}</span>}
  </div>
);

export const Section = ({ title, children, aside }: { title: string; children: ReactNode; aside?: ReactNode }) => (
  <section className="border-t border-hair px-3 py-2.5 first:border-t-0">
    <div className="mb-1 flex items-center justify-between">
      <h3 className="eyebrow">{title}</h3>
      {aside}
    </div>
    {children}
  </section>
);

export { cx };
