'use client';
import { Copy, Ruler, X } from 'lucide-react';
import { toast } from 'sonner';
import { allElements, type Measured, measureOne, measureTwo, type SnapKind } from '@/core/part';
import { formatLength, type LengthUnit } from '@/core/units';
import { toScreen, type View } from '../centreline/view';
import { IconButton } from '../kit/controls';
import { useUnit } from '../kit/units';
import { useBuiltPart } from '../part/built';
import { type Pick3, useMeasure } from './store';

export const SNAP_WORD: Record<SnapKind, string> = {
  end: 'end',
  centre: 'centre',
  middle: 'middle',
  turn: 'turning point',
  side: 'side',
  axis: 'axis',
};

/** Value as it is shown and copied. */
const shown = (m: Measured, unit: LengthUnit): string =>
  m.unit === '°' ? `${Number(m.value.toFixed(4))}` : formatLength(Math.round(m.value * 1e6) / 1e6, unit);

const useValues = (): { values: Measured[]; picks: readonly Pick3[] } => {
  const picks = useMeasure((s) => s.picks);
  const part = useBuiltPart();
  if (picks.length === 0) return { values: [], picks };
  if (picks.length === 1) {
    const e = picks[0].kind === 'side' ? allElements(part).find((k) => k.id === picks[0].element) : undefined;
    return { values: measureOne(picks[0], e?.curve ?? null), picks };
  }
  const [a, b] = picks;
  return { values: measureTwo(a, b, a.space && b.space ? [a.space, b.space] : null), picks };
};

/** The strip under the drawing while measuring: what to click, then the numbers, each to copy or to put into the waiting field. */
export const MeasureStrip = () => {
  const on = useMeasure((s) => s.on);
  const field = useMeasure((s) => s.field);
  const end = useMeasure((s) => s.end);
  const unit = useUnit();
  const { values, picks } = useValues();
  if (!on) return null;
  return (
    <div
      className="absolute inset-x-2 bottom-10 z-10 mx-auto flex w-fit flex-wrap items-center gap-1.5 rounded border border-woad bg-white px-2 py-1"
      data-testid="measure"
      role="status"
    >
      <Ruler size={14} className="text-woad" aria-hidden />
      {values.length === 0 && (
        <span>
          {field
            ? `Pick a place for “${field.label}”: one for its ⌀ or Z, two for a distance.`
            : 'Click a place: an end, centre, middle or side. A second one measures between them.'}
        </span>
      )}
      {values.length > 0 && <span className="text-soft">{picks.map((p) => SNAP_WORD[p.kind]).join(' – ')}</span>}
      {values.map((m) => (
        <button
          key={m.name}
          type="button"
          className="num flex h-7 items-center gap-1 rounded border border-hair px-1.5 hover:border-woad"
          title={field ? `Put ${shown(m, unit)} into ${field.label}` : 'Copy'}
          onClick={() => {
            if (field) {
              field.take(m.value);
              end();
              return;
            }
            const words = `${m.name} ${shown(m, unit)}`;
            // a page that is open over the network has no clipboard
            if (!navigator.clipboard) toast(words);
            else
              navigator.clipboard.writeText(shown(m, unit)).then(
                () => toast(`${words} copied`),
                () => toast(words),
              );
          }}
        >
          <span className="text-soft">{m.name}</span> {shown(m, unit)}
          {m.unit === '°' ? '°' : ''}
          {!field && <Copy size={11} className="text-soft" aria-hidden />}
        </button>
      ))}
      <IconButton label="End measuring (M)" className="!h-6 !w-6" onClick={end}>
        <X size={13} />
      </IconButton>
    </div>
  );
};

/** Picks and the line between them, in screen coordinates. */
export const MeasureMarks = ({ view, hover }: { view: View; hover: Pick3 | null }) => {
  const on = useMeasure((s) => s.on);
  const picks = useMeasure((s) => s.picks);
  if (!on) return null;
  const places = picks.map((p) => toScreen(view, p.at.x, p.at.y));
  const h = hover ? toScreen(view, hover.at.x, hover.at.y) : null;
  return (
    <g pointerEvents="none">
      {places.length === 2 && (
        <>
          <path
            d={`M${places[0].x} ${places[0].y}L${places[1].x} ${places[1].y}`}
            stroke="var(--color-woad)"
            strokeWidth={1.4}
            fill="none"
          />
          <path
            d={`M${places[0].x} ${places[0].y}L${places[1].x} ${places[0].y}L${places[1].x} ${places[1].y}`}
            stroke="var(--color-woad)"
            strokeWidth={1}
            strokeDasharray="3 3"
            fill="none"
          />
        </>
      )}
      {places.map((p) => (
        <g key={`${p.x},${p.y}`} stroke="var(--color-woad)" strokeWidth={1.6}>
          <circle cx={p.x} cy={p.y} r={5} fill="var(--color-white)" fillOpacity={0.8} />
          <path d={`M${p.x - 8} ${p.y}h16M${p.x} ${p.y - 8}v16`} />
        </g>
      ))}
      {h && hover && (
        <g>
          <circle cx={h.x} cy={h.y} r={6} fill="none" stroke="var(--color-woad)" strokeWidth={1.5} />
          <text
            x={h.x + 10}
            y={h.y - 8}
            fontSize={11}
            fill="var(--color-woad)"
            stroke="var(--color-linen)"
            strokeWidth={3}
            paintOrder="stroke"
          >
            {SNAP_WORD[hover.kind]}
            {hover.radius !== null && hover.kind === 'centre' ? ` R${Number(hover.radius.toFixed(3))}` : ''}
          </text>
        </g>
      )}
    </g>
  );
};
