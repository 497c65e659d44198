'use client';
import { Merge, ScanEye, Split, Trash2, X } from 'lucide-react';
import { useState } from 'react';
import { FEATURE_KINDS, featureWord, type ListedFeature, middleOf, planeOfFeature, readTolerance } from '@/core/part';
import { formatLength } from '@/core/units';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { Button, Choice, cx, IconButton, NumberField, Row, Section, TextField, Toggle } from '../kit/controls';
import { useUnit } from '../kit/units';
import { FEATURE_STATE, featureState, setFeatureNote, useFeatures, useThreaded } from './FeatureList';
import { usePart } from './store';

const WORDS: Record<string, string> = {
  diameter: '⌀',
  width: 'Width',
  depth: 'Depth',
  length: 'Length',
  radius: 'Radius',
  angle: 'Angle',
  pitch: 'Pitch',
  nominal: 'Nominal ⌀',
  across: 'Across flats',
  sides: 'Sides',
  circle: 'On circle ⌀',
  z: 'At Z',
  count: 'Count',
  height: 'Height over axis',
  floor: 'Floor over axis',
  corner: 'Corner radius',
  point: 'Drill point',
  sink: 'Sink ⌀',
  mouth: 'Mouth ⌀',
};
const ANGLES = new Set(['angle', 'point']);
const PLAIN = new Set(['sides', 'count']);

const ACCESS = {
  main: 'from the front',
  radial: 'from the side',
  angled: 'at an angle',
  back: 'from the back',
} as const;

/** Turns the 3D view square to the plane of a milled feature, copy after copy. */
const LookSquare = ({ feature: f }: { feature: ListedFeature }) => {
  const [copy, setCopy] = useState(0);
  const plane = planeOfFeature(f, copy);
  if (!plane) return null;
  const words =
    f.angles.length > 1
      ? `Look square at ${Number(f.angles[copy % f.angles.length].toFixed(2))}°`
      : 'Look square at it';
  return (
    <Button
      onClick={() => {
        const { set, view, lookSquare } = usePart.getState();
        if (view === 'section') set({ view: 'both' });
        lookSquare(plane);
        setCopy(copy + 1);
      }}
    >
      <ScanEye size={14} /> {words}
    </Button>
  );
};

/** Sizes, place and marks of the chosen feature, and what may be done with it. */
export const FeatureCard = ({ feature: f, all }: { feature: ListedFeature; all: readonly ListedFeature[] }) => {
  const unit = useUnit();
  const threaded = useThreaded();
  const coverage = useDerived((s) => s.view?.coverage);
  const split = useDocument((s) => s.job.part.split);
  const edit = useDocument((s) => s.edit);
  const set = usePart((s) => s.set);
  const length = (v: number): string => formatLength(Math.round(v * 1e4) / 1e4, unit);
  const beside = all.filter((k) => k.id !== f.id && k.from === f.from && !k.proposed && touching(k, f));
  const base = f.id.includes('@') ? f.id.slice(0, f.id.lastIndexOf('@')) : null;
  return (
    <Section
      title={featureWord(f.kind)}
      aside={
        <IconButton label="Back to the element table" onClick={() => set({ feature: null })}>
          <X size={14} />
        </IconButton>
      }
    >
      <div data-testid="feature-card">
        {f.proposed && (
          <p className="mb-1.5 text-weld">
            ▲ The diameter fits this thread and there is a chamfer or relief for it. Nothing is assumed: name it to take
            it, or ignore it.
          </p>
        )}
        <Row label="Name">
          <TextField
            label="Name of the feature"
            className="w-44"
            placeholder={f.words}
            value={f.note.name}
            onChange={(v) => setFeatureNote(f.id, 'name feature', { name: v.slice(0, 120) })}
          />
        </Row>
        {Object.entries(f.sizes).map(([k, v]) => (
          <Row key={k} label={WORDS[k] ?? k} unit={ANGLES.has(k) ? '°' : PLAIN.has(k) ? '' : unit}>
            <span className="num">{ANGLES.has(k) || PLAIN.has(k) ? String(Number(v.toFixed(4))) : length(v)}</span>
          </Row>
        ))}
        <Row label="Place">
          <span className="num whitespace-nowrap">
            Z{length(f.place.front)} … {length(f.place.back)}, ⌀{length(f.place.inner)}–{length(f.place.outer)}
          </span>
        </Row>
        {f.angles.length > 0 && (
          <Row label="At angles" unit="°">
            <span className="num truncate">{f.angles.map((a) => Number(a.toFixed(3))).join(', ')}</span>
          </Row>
        )}
        <Row label="Reached">
          <span>{ACCESS[f.access]}</span>
        </Row>
        <Row label="State">
          <span>{f.note.ignored ? 'ignored' : FEATURE_STATE[featureState(f, coverage, threaded)]}</span>
        </Row>
        <Row label="Tolerance" help="As on the drawing, such as H7 or ±0.02.">
          <TextField
            label="Tolerance"
            className="w-28"
            value={f.note.tolerance}
            onChange={(v) => setFeatureNote(f.id, 'tolerance', { tolerance: v.slice(0, 40) })}
          />
        </Row>
        <ToleranceWords feature={f} />
        <Row label="Roughness Ra" unit="µm">
          <NumberField
            label="Roughness Ra"
            width="w-28"
            optional="not stated"
            value={f.note.roughness}
            step={0.1}
            onChange={(v) => setFeatureNote(f.id, 'roughness', { roughness: v })}
          />
        </Row>
        <Row label="Ignore">
          <Toggle
            label="Ignore the feature"
            on={f.note.ignored}
            onChange={(on) => setFeatureNote(f.id, on ? 'ignore feature' : 'take feature up', { ignored: on })}
          />
        </Row>
        <div className="mt-2 flex flex-wrap gap-1.5">
          <LookSquare key={f.id} feature={f} />
          {(f.elements.length > 1 || f.angles.length > 1) && f.members.length === 1 && !base && (
            <Button
              onClick={() =>
                edit('split feature', (j) => ({ ...j, part: { ...j.part, split: [...(j.part.split ?? []), f.id] } }))
              }
            >
              <Split size={14} /> Split
            </Button>
          )}
          {base && (split ?? []).includes(base) && (
            <Button
              onClick={() => {
                edit('put feature together again', (j) => ({
                  ...j,
                  part: { ...j.part, split: (j.part.split ?? []).filter((k) => k !== base) },
                }));
                set({ feature: base });
              }}
            >
              <Merge size={14} /> Together again
            </Button>
          )}
          {f.members.length > 1 && (
            <Button
              onClick={() =>
                edit('take features apart', (j) => ({
                  ...j,
                  part: { ...j.part, merged: (j.part.merged ?? []).filter((g) => g[0] !== f.id) },
                }))
              }
            >
              <Split size={14} /> Take apart
            </Button>
          )}
          {beside.slice(0, 3).map((k) => (
            <Button
              key={k.id}
              onClick={() =>
                edit('merge features', (j) => ({
                  ...j,
                  part: {
                    ...j.part,
                    merged: [
                      ...(j.part.merged ?? []).filter((g) => g[0] !== f.id && g[0] !== k.id),
                      [...f.members, ...k.members],
                    ],
                  },
                }))
              }
            >
              <Merge size={14} /> Merge with {k.words}
            </Button>
          ))}
          {f.from === 'user' && (
            <Button
              onClick={() => {
                edit('delete feature', (j) => ({
                  ...j,
                  part: { ...j.part, features: (j.part.features ?? []).filter((k) => k.id !== f.id) },
                }));
                set({ feature: null });
              }}
            >
              <Trash2 size={14} /> Delete
            </Button>
          )}
        </div>
        {f.from === 'user' && (
          <Row label="Kind">
            <Choice
              label="Kind of feature"
              className="w-36"
              value={f.kind}
              options={FEATURE_KINDS.map((k) => ({ value: k, label: featureWord(k) }))}
              onChange={(v) =>
                edit('kind of feature', (j) => ({
                  ...j,
                  part: {
                    ...j.part,
                    features: (j.part.features ?? []).map((k) =>
                      k.id === f.id ? { ...k, kind: v as ListedFeature['kind'] } : k,
                    ),
                  },
                }))
              }
            />
          </Row>
        )}
      </div>
    </Section>
  );
};

/** What a tolerance says in millimetres. */
const ToleranceWords = ({ feature: f }: { feature: ListedFeature }) => {
  if (f.note.tolerance === '') return null;
  const diameter = f.sizes.diameter ?? f.place.outer;
  const read = readTolerance(f.note.tolerance, diameter);
  const signed = (v: number): string => `${v > 0 ? '+' : ''}${Number(v.toFixed(4))}`;
  return (
    <p className={cx('num mb-1 text-right', read ? 'text-soft' : 'text-weld')}>
      {read
        ? `${signed(read.upper)} / ${signed(read.lower)}, middle ${signed(middleOf(read))}`
        : 'not read: write H7, h6, ±0.02 or +0.02/-0.01'}
    </p>
  );
};

/** Features that lie next to each other along the contour, or are alike on one solid. */
const touching = (a: ListedFeature, b: ListedFeature): boolean => {
  if (a.elements.length === 0 || b.elements.length === 0) return a.kind === b.kind;
  const near = (p: number, q: number): boolean => Math.abs(p - q) < 1e-3;
  return (
    a.access === b.access &&
    (near(a.place.back, b.place.front) || near(b.place.back, a.place.front)) &&
    a.place.outer >= b.place.inner - 1e-3 &&
    b.place.outer >= a.place.inner - 1e-3
  );
};

/** The chosen feature, if it is still there. */
export const useChosenFeature = (): { feature: ListedFeature | null; all: readonly ListedFeature[] } => {
  const all = useFeatures();
  const id = usePart((s) => s.feature);
  return { feature: all.find((f) => f.id === id) ?? null, all };
};
