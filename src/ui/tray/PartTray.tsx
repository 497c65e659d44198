'use client';
import { FileUp, Plus, RefreshCw } from 'lucide-react';
import { useRef } from 'react';
import { allElements, describeElement, type FeatureKind, featureByHand, type PartDocument } from '@/core/part';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Button, Choice, NumberField, Section, TextField, Toggle } from '../kit/controls';
import { useBuiltPart } from '../part/built';
import { FeatureList } from '../part/FeatureList';
import { usePart } from '../part/store';

const KINDS_BY_HAND: readonly (readonly [FeatureKind, string])[] = [
  ['turn', 'turned'],
  ['bore', 'bore'],
  ['groove', 'groove'],
  ['face-groove', 'face groove'],
  ['relief', 'undercut'],
  ['thread', 'thread'],
  ['inner-thread', 'inside thread'],
  ['form', 'formed contour'],
];

const EDGES = [
  { value: 'drawn', label: 'as drawn' },
  { value: 'chamfer', label: 'chamfer' },
  { value: 'fillet', label: 'round' },
];

/** What is said of all edges and of all tolerances at once. */
const EdgesSection = () => {
  const part = useDocument((s) => s.job.part);
  const unit = useDocument((s) => s.job.units);
  const edit = useDocument((s) => s.edit);
  const edges = part.edges ?? null;
  const change = (label: string, patch: Partial<PartDocument>): void =>
    edit(label, (j) => ({ ...j, part: { ...j.part, ...patch } }));
  return (
    <Section title="Edges and tolerances">
      <div className="flex items-center gap-2 py-px">
        <span className="w-16 shrink-0 text-soft">Edges</span>
        <Choice
          label="Edges not drawn otherwise"
          className="min-w-0 flex-1"
          value={edges?.kind ?? 'drawn'}
          options={EDGES}
          onChange={(v) =>
            change('edges', { edges: v === 'drawn' ? null : { kind: v as 'chamfer', size: edges?.size ?? 0.3 } })
          }
        />
      </div>
      {edges && (
        <>
          <div className="flex items-center gap-2 py-px">
            <span className="w-16 shrink-0 text-soft">Size</span>
            <NumberField
              label="Size of edges"
              unit={unit}
              width="w-20"
              value={edges.size}
              onChange={(v) => v !== null && v > 0 && change('size of edges', { edges: { ...edges, size: v } })}
            />
          </div>
          <p className="text-soft">Every sharp edge that has no corner of its own is broken so.</p>
        </>
      )}
      <div className="flex items-center gap-2 py-px">
        <span className="w-16 shrink-0 text-soft">Corners R</span>
        <NumberField
          label="Radius of inside corners not drawn otherwise"
          unit={unit}
          width="w-20"
          value={part.corners ?? null}
          optional="sharp"
          onChange={(v) => change('inside corners', { corners: v !== null && v > 0 ? v : null })}
        />
      </div>
      <div className="flex items-center gap-2 py-px">
        <span className="w-16 shrink-0 text-soft">Made to</span>
        <Choice
          label="Diameters with a tolerance"
          className="min-w-0 flex-1"
          value={part.aim ?? 'size'}
          options={[
            { value: 'size', label: 'the size drawn' },
            { value: 'middle', label: 'middle of tolerance' },
          ]}
          onChange={(v) => change('made to', { aim: v as 'size' | 'middle' })}
        />
      </div>
    </Section>
  );
};

export const PartTray = () => {
  const job = useDocument((s) => s.job);
  const element = useSelection((s) => s.element);
  const edit = useDocument((s) => s.edit);
  const showPrevious = usePart((s) => s.showPrevious);
  const { open, again, set } = usePart.getState();
  const file = useRef<HTMLInputElement>(null);
  const source = job.part.source ?? null;
  const header = (key: 'number' | 'name' | 'revision', label: string, most: number) => (
    <label className="flex items-center gap-2 py-px">
      <span className="w-16 shrink-0 text-soft">{label}</span>
      <TextField
        label={label}
        className="min-w-0 flex-1"
        value={job.header[key]}
        onChange={(v) =>
          edit(`${label.toLowerCase()} of the part`, (j) => ({
            ...j,
            header: { ...j.header, [key]: v.slice(0, most) },
          }))
        }
      />
    </label>
  );
  const built = useBuiltPart();
  const chosen = allElements(built).find((e) => e.id === element);
  return (
    <>
      <Section title="Part">
        {header('number', 'Number', 60)}
        {header('name', 'Name', 200)}
        {header('revision', 'Revision', 40)}
        <div className="flex items-center gap-2 py-px">
          <span className="w-16 shrink-0 text-soft">Units</span>
          <Choice
            label="Units"
            className="min-w-0 flex-1"
            value={job.units}
            options={[
              { value: 'mm', label: 'mm, X as ⌀' },
              { value: 'inch', label: 'inch, X as ⌀' },
            ]}
            onChange={(v) => edit('units', (j) => ({ ...j, units: v as 'mm' | 'inch' }))}
          />
        </div>
        <input
          ref={file}
          type="file"
          accept=".step,.stp,.p21,.stl,.dxf"
          className="hidden"
          data-testid="part-input"
          onChange={(e) => {
            const f = e.target.files?.[0];
            e.target.value = '';
            if (f) void open(f);
          }}
        />
        <Button className="mt-2 w-full" onClick={() => file.current?.click()}>
          <FileUp size={14} /> Bring in STEP, STL, DXF
        </Button>
        {source && (
          <Button
            className="mt-1 w-full !justify-start overflow-hidden"
            tone="quiet"
            title={`Read ${source.name} with other choices`}
            onClick={() => void again()}
          >
            <RefreshCw size={13} className="shrink-0" /> <span className="truncate">{source.name}</span>
          </Button>
        )}
        {job.part.previous && (
          <div className="mt-1 flex items-center gap-2">
            <Toggle
              label={`Show revision ${job.part.previous.revision}`}
              on={showPrevious}
              onChange={(on) => set({ showPrevious: on })}
            />
            <span className="truncate">show revision {job.part.previous.revision}</span>
          </div>
        )}
        {built.volume > 0 && (
          <p className="num mt-2 text-soft">
            {(built.volume / 1000).toFixed(3)} cm³ · {((built.volume / 1000) * job.material.density).toFixed(1)} g
          </p>
        )}
      </Section>
      <EdgesSection />
      <FeatureList />
      <Section title="Add a feature">
        {chosen ? (
          <>
            <p className="num mb-1 truncate text-soft">of {describeElement(chosen)}</p>
            <Choice
              label="Add a feature of the chosen element"
              className="w-full"
              value=""
              placeholder="kind …"
              options={KINDS_BY_HAND.map(([value, label]) => ({ value, label }))}
              onChange={(v) => {
                const stored = job.part.features ?? [];
                let n = 1;
                while (stored.some((f) => f.id === `hand:${n}`)) n++;
                const made = featureByHand(built, [chosen.id], v as FeatureKind, n);
                if (!made) return;
                edit('add feature', (j) => ({
                  ...j,
                  part: { ...j.part, features: [...(j.part.features ?? []), made] },
                }));
                set({ feature: made.id });
              }}
            />
          </>
        ) : (
          <p className="text-soft">
            <Plus size={12} className="inline" aria-hidden /> Choose an element of the contour first.
          </p>
        )}
      </Section>
    </>
  );
};
