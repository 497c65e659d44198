'use client';
import { Plus, Trash2 } from 'lucide-react';
import { wordPartProblem } from '@/core/checks';
import type { PartProblem, Profile, Row } from '@/core/part';
import { useJob } from '../job/store';
import { Button, Choice, cx, IconButton, NumberField, Section } from '../kit/controls';

type Side = 'outer' | 'inner';

// one empty list for all renders: a fresh one would count as a change of the store
const NO_PROBLEMS: readonly PartProblem[] = [];

const SHAPES = [
  { value: 'line', label: 'line' },
  { value: 'ccw', label: 'arc ↺' },
  { value: 'cw', label: 'arc ↻' },
];

const CORNERS = [
  { value: 'none', label: 'sharp' },
  { value: 'chamfer', label: 'chamfer' },
  { value: 'fillet', label: 'round' },
];

const shapeOf = (r: Row): string => (r.kind === 'line' ? 'line' : r.clockwise ? 'cw' : 'ccw');

/** The part as rows: how to get from the end above to this end, and what happens at its corner. */
export const ElementTable = () => {
  const job = useJob((s) => s.job);
  const derived = useJob((s) => s.derived);
  const edit = useJob((s) => s.edit);
  const problems = derived?.part.problems ?? [];
  return (
    <div data-testid="element-table">
      {problems.length > 0 && (
        <div className="border-b border-hair bg-madder-pale px-3 py-2" role="alert">
          {problems.slice(0, 4).map((p) => {
            const w = wordPartProblem(p);
            return (
              <p key={`${p.code}${p.row}`} className="mb-0.5">
                <b className="text-madder">✕ {w.message}</b> {w.remedy}
              </p>
            );
          })}
        </div>
      )}
      <SideTable side="outer" profile={job.part.outer} title="Outer contour, front to back" />
      {job.part.inner ? (
        <SideTable side="inner" profile={job.part.inner} title="Inner contour, front to back" />
      ) : (
        <Section title="Inner contour">
          <p className="mb-1.5 text-soft">The part is solid.</p>
          <Button
            onClick={() =>
              edit('add a bore', (j) => {
                const length = Math.min(...j.part.outer.rows.map((r) => r.z));
                const d = 10;
                j.part.inner = { start: { diameter: d, z: j.part.outer.start.z }, rows: [{ id: 'i1', kind: 'line', diameter: d, z: length, corner: null }] };
                j.part.outer.start.diameter = d;
                const last = j.part.outer.rows.at(-1);
                if (last && last.diameter === 0) last.diameter = d;
                return j;
              })
            }
          >
            <Plus size={14} /> Add a bore
          </Button>
        </Section>
      )}
    </div>
  );
};

const SideTable = ({ side, profile, title }: { side: Side; profile: Profile; title: string }) => {
  const unit = useJob((s) => s.job.units);
  const edit = useJob((s) => s.edit);
  const set = useJob((s) => s.set);
  const chosen = useJob((s) => s.element);
  const problems = useJob((s) => s.derived?.part.problems) ?? NO_PROBLEMS;
  const change = (label: string, f: (p: Profile) => void): void =>
    edit(label, (j) => {
      const p = j.part[side];
      if (p) f(p);
      return j;
    });
  const freshRow = (p: Profile): string => {
    let n = p.rows.length + 1;
    while (p.rows.some((r) => r.id === `${side[0]}${n}`)) n++;
    return `${side[0]}${n}`;
  };
  return (
    <Section
      title={title}
      aside={
        side === 'inner' ? (
          <IconButton
            label="Remove the bore"
            onClick={() =>
              edit('remove the bore', (j) => {
                const d = j.part.inner?.start.diameter;
                j.part.inner = null;
                if (j.part.outer.start.diameter === d) j.part.outer.start.diameter = 0;
                const last = j.part.outer.rows.at(-1);
                if (last && last.diameter === d) last.diameter = 0;
                return j;
              })
            }
          >
            <Trash2 size={14} />
          </IconButton>
        ) : null
      }
    >
      <table className="w-full">
        <thead>
          <tr className="text-left text-soft">
            <th className="font-normal">shape</th>
            <th className="font-normal">to ⌀</th>
            <th className="font-normal">to Z</th>
            <th className="font-normal">corner</th>
            <th aria-label="buttons" />
          </tr>
        </thead>
        <tbody>
          <tr>
            <td className="text-soft">start</td>
            <td>
              <NumberField
                label={`${side} start diameter`}
                unit={unit}
                width="w-[3.9rem]"
                value={profile.start.diameter}
                onChange={(v) => v !== null && change('start diameter', (p) => void (p.start.diameter = v))}
              />
            </td>
            <td>
              <NumberField
                label={`${side} start Z`}
                unit={unit}
                width="w-[3.9rem]"
                value={profile.start.z}
                onChange={(v) => v !== null && change('start Z', (p) => void (p.start.z = v))}
              />
            </td>
            <td />
            <td />
          </tr>
          {profile.rows.map((r, i) => {
            const bad = problems.some((p) => p.side === side && p.row === r.id);
            return (
              <tr key={r.id} className={cx(chosen === r.id && 'bg-woad-pale', bad && 'bg-madder-pale')} onFocus={() => set({ element: r.id })}>
                <td className="align-top">
                  <Choice
                    label={`${side} row ${i + 1} shape`}
                    className="w-[4.6rem]"
                    value={shapeOf(r)}
                    options={SHAPES}
                    onChange={(v) =>
                      change('shape', (p) => {
                        const { id, diameter, z, corner } = p.rows[i];
                        p.rows[i] =
                          v === 'line'
                            ? { id, diameter, z, corner, kind: 'line' }
                            : { id, diameter, z, corner, kind: 'arc', radius: 'radius' in r ? r.radius : 5, clockwise: v === 'cw', long: false };
                      })
                    }
                  />
                  {r.kind === 'arc' && (
                    <span className="flex items-center gap-0.5">
                      <span className="text-soft">R</span>
                      <NumberField
                        label={`${side} row ${i + 1} radius`}
                        unit={unit}
                        width="w-[3.7rem]"
                        value={r.radius}
                        bad={bad}
                        onChange={(v) => v !== null && change('radius', (p) => Object.assign(p.rows[i], { radius: v }))}
                      />
                    </span>
                  )}
                </td>
                <td className="align-top">
                  <NumberField
                    label={`${side} row ${i + 1} diameter`}
                    unit={unit}
                    width="w-[3.9rem]"
                    value={r.diameter}
                    onChange={(v) => v !== null && change('diameter', (p) => void (p.rows[i].diameter = v))}
                  />
                </td>
                <td className="align-top">
                  <NumberField
                    label={`${side} row ${i + 1} Z`}
                    unit={unit}
                    width="w-[3.9rem]"
                    value={r.z}
                    onChange={(v) => v !== null && change('Z', (p) => void (p.rows[i].z = v))}
                  />
                </td>
                <td className="align-top">
                  <span className="flex items-center gap-0.5">
                    <Choice
                      label={`${side} row ${i + 1} corner`}
                      className="w-[4.9rem]"
                      value={r.corner?.kind ?? 'none'}
                      options={CORNERS}
                      onChange={(v) => change('corner', (p) => void (p.rows[i].corner = v === 'none' ? null : { kind: v as 'chamfer' | 'fillet', size: r.corner?.size ?? 0.5 }))}
                    />
                    {r.corner && (
                      <NumberField
                        label={`${side} row ${i + 1} corner size`}
                        unit={unit}
                        width="w-11"
                        value={r.corner.size}
                        bad={bad}
                        onChange={(v) =>
                          v !== null && change('corner size', (p) => p.rows[i].corner && void (p.rows[i].corner = { ...(p.rows[i].corner as NonNullable<Row['corner']>), size: v }))
                        }
                      />
                    )}
                  </span>
                </td>
                <td className="whitespace-nowrap align-top">
                  <IconButton
                    className="!w-5"
                    label="Add a row below"
                    onClick={() =>
                      change('add row', (p) => {
                        const next = p.rows[i + 1] ?? r;
                        p.rows.splice(i + 1, 0, {
                          id: freshRow(p),
                          kind: 'line',
                          diameter: Math.round(((r.diameter + next.diameter) / 2) * 1000) / 1000,
                          z: Math.round(((r.z + next.z) / 2 - (p.rows[i + 1] ? 0 : 5)) * 1000) / 1000,
                          corner: null,
                        });
                      })
                    }
                  >
                    <Plus size={13} />
                  </IconButton>
                  <IconButton className="!w-5" label="Delete the row" onClick={() => change('delete row', (p) => void p.rows.splice(i, 1))}>
                    <Trash2 size={13} />
                  </IconButton>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {profile.rows.length === 0 && (
        <Button onClick={() => change('add row', (p) => void p.rows.push({ id: freshRow(p), kind: 'line', diameter: 20, z: 0, corner: null }))}>
          <Plus size={14} /> First row
        </Button>
      )}
    </Section>
  );
};
