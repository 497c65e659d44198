'use client';
import { Plus, Trash2 } from 'lucide-react';
import { useMemo } from 'react';
import { wordPartProblem } from '@/core/checks';
import { type Profile, type Row, solveDimensions, solveProfile } from '@/core/part';
import { formatLength } from '@/core/units';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Button, Choice, cx, IconButton, NumberField, Section } from '../kit/controls';
import { useUnit } from '../kit/units';
import { BringIn } from '../part/BringIn';
import { useBuiltPart } from '../part/built';
import { Dimensions } from '../part/Dimensions';
import { Exports } from '../part/Exports';
import { FeatureCard, useChosenFeature } from '../part/FeatureCard';
import { RowDetail } from '../part/RowDetail';
import {
  addBore,
  addCentreHole,
  changeProfile,
  freshRow,
  type ProfileSide,
  removeBore,
  setRowValue,
} from '../part/rows';
import { usePart } from '../part/store';

const SHAPES = [
  { value: 'line', label: 'line' },
  { value: 'ccw', label: 'arc ↺' },
  { value: 'cw', label: 'arc ↻' },
];

const CORNERS = [
  { value: 'none', label: 'sharp' },
  { value: 'chamfer', label: 'chamfer' },
  { value: 'fillet', label: 'round' },
  { value: 'undercut-e', label: 'DIN 509 E' },
  { value: 'undercut-f', label: 'DIN 509 F' },
  { value: 'relief', label: 'DIN 76' },
];
/** Offered where the part says what becomes of edges or inside corners that are not drawn. */
const SHARP = { value: 'sharp', label: 'sharp' };
const FIRST_SIZE: Record<string, number> = {
  sharp: 0,
  chamfer: 0.5,
  fillet: 0.5,
  'undercut-e': 0.6,
  'undercut-f': 0.6,
  relief: 1.5,
};
const STANDARD_SIZES: Record<string, readonly string[]> = {
  'undercut-e': ['0.4', '0.6', '0.8', '1.2'],
  'undercut-f': ['0.4', '0.6', '0.8', '1.2'],
  relief: ['0.5', '0.8', '1', '1.25', '1.5', '1.75', '2', '2.5', '3'],
};

const shapeOf = (r: Row): string => (r.kind === 'line' ? 'line' : r.clockwise ? 'cw' : 'ccw');

/** The card of the Part phase: a file being brought in, else the chosen feature, dimensions and the rows of the contour. */
export const PartCard = () => {
  const bringing = usePart((s) => s.bringing);
  return bringing ? <BringIn bringing={bringing} /> : <ElementTable />;
};

const ElementTable = () => {
  const job = useDocument((s) => s.job);
  const { problems } = useBuiltPart();
  const { feature, all } = useChosenFeature();
  return (
    <div data-testid="element-table">
      {problems.length > 0 && (
        <div className="border-b border-hair bg-madder-pale px-3 py-2" role="alert">
          {problems.slice(0, 4).map((p) => {
            const w = wordPartProblem(p);
            return (
              <p key={`${p.code}${p.row}${p.at?.x}`} className="mb-0.5">
                <b className="text-madder">✕ {w.message}</b> {w.remedy}
              </p>
            );
          })}
        </div>
      )}
      {feature && <FeatureCard feature={feature} all={all} />}
      <SideTable side="outer" profile={job.part.outer} title="Outer contour, front to back" />
      {job.part.inner ? (
        <SideTable side="inner" profile={job.part.inner} title="Inner contour, front to back" />
      ) : (
        <Section title="Inner contour">
          <p className="mb-1.5 text-soft">{job.part.back ? 'The front is solid.' : 'The part is solid.'}</p>
          <div className="flex flex-wrap gap-1.5">
            <Button onClick={addBore}>
              <Plus size={14} /> Add a bore
            </Button>
            <Choice
              label="Centre hole DIN 332"
              className="w-40"
              value=""
              placeholder="centre hole …"
              options={['1', '1.6', '2', '2.5', '3.15', '4', '5', '6.3'].map((d) => ({
                value: d,
                label: `centre hole A${d}`,
              }))}
              onChange={(v) => addCentreHole(Number(v))}
            />
          </div>
        </Section>
      )}
      {job.part.back && <SideTable side="back" profile={job.part.back} title="Bore from the back, back to axis" />}
      <Dimensions />
      <Exports />
    </div>
  );
};

const SideTable = ({ side, profile, title }: { side: ProfileSide; profile: Profile; title: string }) => {
  const unit = useUnit();
  const dimensions = useDocument((s) => s.job.part.dimensions);
  const set = useSelection((s) => s.set);
  const chosen = useSelection((s) => s.element);
  const { problems } = useBuiltPart();
  const broken = useDocument((s) => Boolean(s.job.part.edges ?? s.job.part.corners));
  const own = useDocument((s) => s.job.units);
  const names = useMemo(() => solveDimensions(dimensions ?? [], own).names, [dimensions, own]);
  const solved = useMemo(() => solveProfile(profile, names, own), [profile, names, own]);
  const change = (label: string, f: (p: Profile) => void): void => changeProfile(side, label, f);
  const ends = new Map(solved.pieces.map((p) => [p.row.id, p.curve.to]));
  const field = (r: Row, i: number, key: 'diameter' | 'z', label: string) => {
    const end = ends.get(r.id);
    const what = `${label} of ${side === 'inner' ? 'bore' : side} row ${i + 1}`;
    const value = r.formulas?.[key] !== undefined ? (end ? (key === 'z' ? end.x : end.y * 2) : null) : r[key];
    return (
      <NumberField
        label={`${side} row ${i + 1} ${label}`}
        unit={unit}
        width="w-[4.5rem]"
        value={value}
        optional={end ? formatLength(Math.round((key === 'z' ? end.x : end.y * 2) * 1e4) / 1e4, unit) : 'same'}
        onChange={(v) => change(what, (p) => setRowValue(p.rows[i], key, v))}
        formula={{
          text: r.formulas?.[key] ?? null,
          names,
          onFormula: (t) => change(what, (p) => setRowValue(p.rows[i], key, t)),
        }}
      />
    );
  };
  return (
    <Section
      title={title}
      aside={
        side !== 'outer' ? (
          <IconButton
            label={side === 'inner' ? 'Remove the bore' : 'Remove the bore from the back'}
            onClick={() => removeBore(side)}
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
                width="w-[4.5rem]"
                value={profile.start.diameter}
                onChange={(v) => v !== null && change('start diameter', (p) => void (p.start.diameter = v))}
              />
            </td>
            <td>
              <NumberField
                label={`${side} start Z`}
                unit={unit}
                width="w-[4.5rem]"
                value={profile.start.z}
                onChange={(v) => v !== null && change('start Z', (p) => void (p.start.z = v))}
              />
            </td>
            <td />
            <td />
          </tr>
          {profile.rows.map((r, i) => {
            const bad = problems.some((p) => p.side === side && p.row === r.id);
            const open = chosen === r.id;
            return [
              <tr
                key={r.id}
                className={cx(open && 'bg-woad-pale', bad && 'bg-madder-pale')}
                onFocus={() => set({ element: r.id })}
              >
                <td className="align-top">
                  <Choice
                    label={`${side} row ${i + 1} shape`}
                    className="w-[4.6rem]"
                    value={shapeOf(r)}
                    options={SHAPES}
                    onChange={(v) =>
                      change('shape', (p) => {
                        const { id, diameter, z, corner, formulas } = p.rows[i];
                        const base = { id, diameter, z, corner, ...(formulas ? { formulas } : {}) };
                        p.rows[i] =
                          v === 'line'
                            ? { ...base, kind: 'line' }
                            : {
                                ...base,
                                kind: 'arc',
                                radius: 'radius' in r ? r.radius : 5,
                                clockwise: v === 'cw',
                                long: false,
                              };
                      })
                    }
                  />
                  {r.kind === 'arc' && (
                    <span className="flex items-center gap-0.5">
                      <span className="text-soft">R</span>
                      <NumberField
                        label={`${side} row ${i + 1} radius`}
                        unit={unit}
                        width="w-[4.4rem]"
                        value={r.radius}
                        optional="follows"
                        bad={bad}
                        onChange={(v) => change('radius', (p) => setRowValue(p.rows[i], 'radius', v))}
                        formula={{
                          text: r.formulas?.radius ?? null,
                          names,
                          onFormula: (t) => change('radius', (p) => setRowValue(p.rows[i], 'radius', t)),
                        }}
                      />
                    </span>
                  )}
                </td>
                <td className="align-top">{field(r, i, 'diameter', 'diameter')}</td>
                <td className="align-top">{field(r, i, 'z', 'Z')}</td>
                <td className="align-top">
                  <span className="flex items-center gap-0.5">
                    <Choice
                      label={`${side} row ${i + 1} corner`}
                      className={r.corner ? 'w-[4.9rem]' : 'w-[5.6rem]'}
                      value={r.corner?.kind ?? 'none'}
                      options={broken ? [{ value: 'none', label: 'edge' }, ...CORNERS.slice(1), SHARP] : CORNERS}
                      onChange={(v) =>
                        change(
                          'corner',
                          (p) =>
                            void (p.rows[i].corner =
                              v === 'none'
                                ? null
                                : { kind: v as NonNullable<Row['corner']>['kind'], size: FIRST_SIZE[v] }),
                        )
                      }
                    />
                    {r.corner && STANDARD_SIZES[r.corner.kind] ? (
                      <Choice
                        label={`${side} row ${i + 1} corner size`}
                        className="w-[3.4rem]"
                        value={String(r.corner.size)}
                        options={STANDARD_SIZES[r.corner.kind].map((v) => ({ value: v, label: v }))}
                        onChange={(v) =>
                          change(
                            'corner size',
                            (p) =>
                              void (p.rows[i].corner = {
                                ...(p.rows[i].corner as NonNullable<Row['corner']>),
                                size: Number(v),
                              }),
                          )
                        }
                      />
                    ) : (
                      r.corner &&
                      r.corner.kind !== 'sharp' && (
                        <NumberField
                          label={`${side} row ${i + 1} corner size`}
                          unit={unit}
                          width="w-11"
                          value={r.corner.size}
                          bad={bad}
                          onChange={(v) =>
                            v !== null &&
                            change(
                              'corner size',
                              (p) =>
                                p.rows[i].corner &&
                                void (p.rows[i].corner = {
                                  ...(p.rows[i].corner as NonNullable<Row['corner']>),
                                  size: v,
                                }),
                            )
                          }
                        />
                      )
                    )}
                  </span>
                </td>
                <td className="whitespace-nowrap align-top">
                  <IconButton
                    className="!w-5"
                    label="Add a row below"
                    onClick={() =>
                      change('add row', (p) => {
                        const here = ends.get(r.id) ?? { x: 0, y: 0 };
                        const next = p.rows[i + 1] ? (ends.get(p.rows[i + 1].id) ?? here) : null;
                        const round = (v: number): number => Math.round(v * 1000) / 1000;
                        p.rows.splice(i + 1, 0, {
                          id: freshRow(p, side),
                          kind: 'line',
                          diameter: round(here.y + (next ?? here).y),
                          z: round(next ? (here.x + next.x) / 2 : here.x - 5),
                          corner: null,
                        });
                      })
                    }
                  >
                    <Plus size={13} />
                  </IconButton>
                  <IconButton
                    className="!w-5"
                    label="Delete the row"
                    onClick={() => change('delete row', (p) => void p.rows.splice(i, 1))}
                  >
                    <Trash2 size={13} />
                  </IconButton>
                </td>
              </tr>,
              open && <RowDetail key={`${r.id}-detail`} side={side} row={r} index={i} names={names} unit={unit} />,
            ];
          })}
        </tbody>
      </table>
      {profile.rows.length === 0 && (
        <Button
          onClick={() =>
            change(
              'add row',
              (p) => void p.rows.push({ id: freshRow(p, side), kind: 'line', diameter: 20, z: 0, corner: null }),
            )
          }
        >
          <Plus size={14} /> First row
        </Button>
      )}
    </Section>
  );
};
