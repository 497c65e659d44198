'use client';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { type CuttingOperation, type Field, isCutting, kindOf } from '@/core/operations';
import { describeElement, describeSpan, type Element, elementsBetween } from '@/core/part';
import { useDocument } from '../job/document';
import { changeOperation } from '../job/edits';
import { useHeld } from '../job/holding';
import { useSelection } from '../job/selection';
import { IconButton, NumberField } from '../kit/controls';
import { cuttingRates, rateWord, useUnit } from '../kit/units';

type Finish = Extract<CuttingOperation, { kind: 'outer-finish' | 'inner-finish' }>;
interface Ends {
  readonly from: string;
  readonly to: string;
}

const elementsIn = (list: readonly Element[], span: Ends | null): readonly Element[] =>
  elementsBetween(list, span) ?? [];

const wordsOf = (list: readonly Element[], span: Ends | null): string => {
  const own = elementsIn(list, span);
  if (own.length === 0) return 'elements that are gone';
  if (!span) return 'the whole side';
  return describeSpan(own);
};

interface Shown {
  readonly id: string;
  readonly field: Field;
}

/** The operation with the elements of its side; null where it works on no spans. */
const useSpans = (id: string) => {
  const held = useHeld();
  const op = useDocument((s) => s.job.operations[id]);
  if (!held || !op || !isCutting(op) || !('more' in op.params)) return null;
  const { side } = kindOf(op);
  return side === 'axis' ? null : { op: op as Finish, side, list: held.part[side] };
};

/** The span of an operation and those that it works on too. */
export const SpansField = ({ id, field }: Shown) => {
  const found = useSpans(id);
  const picked = useSelection((s) => s.span);
  if (!found) return null;
  const { op, side, list } = found;
  const { more } = op.params;
  const put = (label: string, spans: readonly Ends[]): void => changeOperation(id, label, field.key, spans);
  const fits = picked && picked.side === side && elementsIn(list, picked).length > 0;
  return (
    <div className="py-1">
      <ul data-testid="spans">
        <li className="truncate py-0.5">{wordsOf(list, op.span)}</li>
        {more.map((s, i) => (
          <li key={`${s.from} ${s.to}`} className="flex items-center gap-1">
            <span className="min-w-0 flex-1 truncate">{wordsOf(list, s)}</span>
            <IconButton
              label={`Leave out ${wordsOf(list, s)}`}
              className="!h-6 !w-6"
              onClick={() =>
                put(
                  'Leave out a span',
                  more.filter((_, k) => k !== i),
                )
              }
            >
              <X size={12} />
            </IconButton>
          </li>
        ))}
      </ul>
      {op.span && (
        <button
          type="button"
          className="flex items-center gap-1 py-0.5 text-woad disabled:text-soft"
          disabled={!fits}
          title={fits ? field.help : 'Pick elements of this side in the drawing first.'}
          onClick={() => picked && put('Another span', [...more, { from: picked.from, to: picked.to }])}
        >
          <Plus size={13} /> the picked span too
        </button>
      )}
    </div>
  );
};

/** Feed and speed of the elements of all spans. */
export const ElementsField = ({ id, field }: Shown) => {
  const found = useSpans(id);
  const [open, setOpen] = useState(false);
  const unit = useUnit();
  if (!found) return null;
  const { op, list } = found;
  const { own, more } = op.params;
  const elements = [op.span, ...more].flatMap((s) => elementsIn(list, s));
  const unique = [...new Map(elements.map((e) => [e.id, e])).values()];
  const set = (element: string, what: 'feed' | 'speed', value: number | null): void => {
    const now = { ...(own[element] ?? { feed: null, speed: null }), [what]: value };
    const { [element]: _, ...rest } = own;
    const next = now.feed === null && now.speed === null ? rest : { ...rest, [element]: now };
    changeOperation(id, what === 'feed' ? 'Feed of an element' : 'Speed of an element', field.key, next);
  };
  const changed = Object.keys(own).length;
  const rates = cuttingRates(op.cutting.speed.mode, unit);
  return (
    <div className="py-0.5">
      <button
        type="button"
        aria-expanded={open}
        title={field.help}
        className="flex w-full items-center gap-1.5 py-0.5 text-left"
        onClick={() => setOpen(!open)}
      >
        <span aria-hidden className="w-3 text-soft">
          {open ? '▾' : '▸'}
        </span>{' '}
        {field.label}
        <span className="num text-soft">{changed > 0 ? `${changed} of ${unique.length}` : ''}</span>
      </button>
      {open && (
        <div data-testid="element-feeds">
          <div className="flex gap-1.5 text-[11px] text-soft">
            <span className="flex-1" />
            <span className="w-[4.2rem]">{rates.feed.unit}</span>
            <span className="w-[4.2rem]">{rates.speed.unit}</span>
          </div>
          {unique.map((e) => (
            <div key={e.id} className="flex items-center gap-1.5 py-px">
              <span className="min-w-0 flex-1 truncate" title={describeElement(e)}>
                {describeElement(e)}
              </span>
              {(['feed', 'speed'] as const).map((what) => (
                <NumberField
                  key={what}
                  label={`${what} of ${describeElement(e)}`}
                  value={own[e.id]?.[what] ?? null}
                  optional={rateWord(what === 'feed' ? op.cutting.feed : op.cutting.speed.value, rates[what])}
                  step={rates[what].step}
                  scale={rates[what].scale}
                  width="w-[4.2rem]"
                  onChange={(v) => set(e.id, what, v)}
                />
              ))}
            </div>
          ))}
        </div>
      )}
    </div>
  );
};
