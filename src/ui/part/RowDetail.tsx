'use client';
import { Trash2 } from 'lucide-react';
import type { Cut, Row } from '@/core/part';
import type { LengthUnit, Names } from '@/core/units';
import { Choice, IconButton, NumberField, Toggle } from '../kit/controls';
import { useBuiltPart } from './built';
import { changeProfile, firstCut, type ProfileSide, setRowValue } from './rows';

const CUT_WORD: Record<Cut['kind'], string> = { ring: 'ring DIN 471', square: 'square', v: 'V', belt: 'round belt' };

const CUT_FIELDS: Record<Cut['kind'], readonly (readonly [string, string])[]> = {
  ring: [],
  square: [
    ['width', 'wide'],
    ['diameter', '⌀'],
  ],
  v: [
    ['depth', 'deep'],
    ['angle', '°'],
    ['radius', 'R'],
  ],
  belt: [
    ['radius', 'R'],
    ['depth', 'deep'],
  ],
};

/** Other ways to say where the chosen row goes, and the grooves in it. */
export const RowDetail = ({
  side,
  row,
  index,
  names,
  unit,
}: {
  side: ProfileSide;
  row: Row;
  index: number;
  names: Names;
  unit: LengthUnit;
}) => {
  const built = useBuiltPart();
  const change = (label: string, f: (r: Row) => void): void => changeProfile(side, label, (p) => f(p.rows[index]));
  const piece = built[side].find((e) => e.id === row.id)?.curve;
  const field = (key: string, label: string, length = true) => (
    <label className="flex items-center gap-1">
      <span className="text-soft">{label}</span>
      <NumberField
        label={`${side} row ${index + 1} ${label}`}
        unit={length ? unit : null}
        width="w-16"
        optional="–"
        value={((row as unknown as Record<string, number | null | undefined>)[key] ?? null) as number | null}
        onChange={(v) => change(label, (r) => setRowValue(r, key, v))}
        formula={{
          text: row.formulas?.[key] ?? null,
          names,
          onFormula: (t) => change(label, (r) => setRowValue(r, key, t)),
        }}
      />
    </label>
  );
  return (
    <tr className="bg-woad-pale">
      <td colSpan={5} className="px-1 pb-1.5">
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          {row.kind === 'line' ? (
            <>
              {field('angle', 'angle °', false)}
              {field('length', 'length')}
              <span className="text-soft">0° along −Z, 90° outward</span>
            </>
          ) : (
            <>
              {field('centreDiameter', 'centre ⌀')}
              {field('centreZ', 'centre Z')}
              <span className="flex items-center gap-1.5">
                <Toggle
                  label={`${side} row ${index + 1} tangent`}
                  on={row.tangent ?? false}
                  onChange={(on) =>
                    change('tangent', (r) => void Object.assign(r, { tangent: on, ...(on ? { radius: null } : {}) }))
                  }
                />
                tangent
              </span>
              <span className="flex items-center gap-1.5">
                <Toggle
                  label={`${side} row ${index + 1} long way`}
                  on={row.long}
                  onChange={(on) => change('long way round', (r) => void Object.assign(r, { long: on }))}
                />
                long way
              </span>
            </>
          )}
        </div>
        {row.kind === 'line' && (
          <div className="mt-1">
            {(row.cuts ?? []).map((c, k) => (
              <div key={c.id} className="flex flex-wrap items-center gap-1.5 py-px">
                <span className="w-24">{CUT_WORD[c.kind]}</span>
                <span className="text-soft">from Z</span>
                <NumberField
                  label={`groove ${k + 1} Z`}
                  unit={unit}
                  width="w-14"
                  value={c.z}
                  onChange={(v) =>
                    v !== null && change('groove', (r) => void (r.kind === 'line' && r.cuts && (r.cuts[k].z = v)))
                  }
                />
                {CUT_FIELDS[c.kind].map(([key, word]) => (
                  <span key={key} className="flex items-center gap-1">
                    <span className="text-soft">{word}</span>
                    <NumberField
                      label={`groove ${k + 1} ${key}`}
                      unit={key === 'angle' ? null : unit}
                      width="w-12"
                      value={(c as unknown as Record<string, number>)[key]}
                      onChange={(v) =>
                        v !== null &&
                        change(
                          'groove',
                          (r) => void (r.kind === 'line' && r.cuts && Object.assign(r.cuts[k], { [key]: v })),
                        )
                      }
                    />
                  </span>
                ))}
                <IconButton
                  className="!h-6 !w-5"
                  label={`Delete groove ${k + 1}`}
                  onClick={() => change('delete groove', (r) => void (r.kind === 'line' && r.cuts?.splice(k, 1)))}
                >
                  <Trash2 size={13} />
                </IconButton>
              </div>
            ))}
            {piece && Math.abs(piece.from.y - piece.to.y) < 1e-6 && (
              <Choice
                label="Cut a groove"
                className="mt-0.5 w-44"
                value=""
                options={[
                  { value: 'square', label: 'groove, square' },
                  { value: 'ring', label: 'groove for a ring, DIN 471' },
                  { value: 'v', label: 'V groove' },
                  { value: 'belt', label: 'round-belt groove' },
                ]}
                placeholder="cut a groove …"
                onChange={(v) =>
                  change('cut a groove', (r) => {
                    if (r.kind === 'line')
                      r.cuts = [
                        ...(r.cuts ?? []),
                        firstCut(v as Cut['kind'], r, piece.from.x, piece.to.x, piece.from.y * 2),
                      ];
                  })
                }
              />
            )}
          </div>
        )}
      </td>
    </tr>
  );
};
