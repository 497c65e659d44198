'use client';
import { Check, FlipHorizontal2, Loader2, MousePointerClick, Square, X } from 'lucide-react';
import { useMemo, useState } from 'react';
import { allElements, buildPart, describeFeature } from '@/core/part';
import { reviseJob } from '@/core/plan';
import { useDocument } from '../job/document';
import { Button, Choice, cx, NumberField, Row, Section, Toggle } from '../kit/controls';
import { type Bringing, usePart } from './store';

const KIND_WORD = { step: 'solid (STEP)', stl: 'mesh (STL)', dxf: 'drawing (DXF)' } as const;
const GLYPH = { blocking: '✕', attention: '▲', info: '○' } as const;
const TONE = { blocking: 'text-madder', attention: 'text-weld', info: 'text-soft' } as const;

const n = (v: number, digits = 2): string => String(Number(v.toFixed(digits)));
const vector = (v: readonly number[]): string => `${v.map((c) => n(c, 3)).join(', ')}`;

/** The card while a file is looked at: what it holds, how it is read, and taking it. */
export const BringIn = ({ bringing }: { bringing: Bringing }) => {
  const { cancel, take } = usePart.getState();
  const job = useDocument((s) => s.job);
  const [revision, setRevision] = useState(nextRevision(job.header.revision));
  const planned = Object.keys(job.operations).length > 0;
  const [asRevision, setAsRevision] = useState(planned);
  const { brought } = bringing;
  const part = brought?.part ?? null;
  const built = useMemo(() => (part ? buildPart(part) : null), [part]);
  return (
    <div data-testid="bring-in">
      <Section
        title={`Bring in a ${KIND_WORD[bringing.kind]}`}
        aside={
          <Button tone="quiet" className="!px-1" aria-label="Leave the part as it was" onClick={cancel}>
            <X size={15} />
          </Button>
        }
      >
        <p className="truncate">
          <b>{bringing.name}</b>
          {brought?.solid && (
            <span className="text-soft">
              {' '}
              · {brought.solid.schema}, {brought.solid.faces.length} faces
            </span>
          )}
          {brought?.kind === 'stl' && brought.mesh && (
            <span className="text-soft"> · {(brought.mesh.triangles.length / 3).toLocaleString('en')} triangles</span>
          )}
        </p>
        {bringing.stage && (
          <p className="mt-1.5 flex items-center gap-2" role="status">
            <Loader2 size={14} className="animate-spin" aria-hidden /> {bringing.stage} …
            <span className="flex-1" />
            <Button onClick={cancel}>
              <Square size={12} /> Stop
            </Button>
          </p>
        )}
        {bringing.failure && (
          <p className="mt-1.5 text-madder" role="alert">
            ✕ {bringing.failure}
          </p>
        )}
        {brought && brought.problems.length > 0 && (
          <ul className="mt-1.5 space-y-1" role={part ? undefined : 'alert'}>
            {brought.problems.slice(0, 6).map((p) => (
              <li key={p.message} className={TONE[p.severity]}>
                <span aria-hidden>{GLYPH[p.severity]}</span> {p.message}
              </li>
            ))}
            {!part && <li className="text-soft">The part stays as it was.</li>}
          </ul>
        )}
      </Section>
      {brought && <Choices bringing={bringing} />}
      {built && part && (
        <Section title="What it gives">
          <p className="num">
            {built.outer.length} outer, {built.inner.length} bore
            {built.back.length > 0 ? `, ${built.back.length} back bore` : ''} elements
          </p>
          {built.volume > 0 && (
            <p className="num text-soft">{(built.volume / 1000).toFixed(3)} cm³ turned about its axis</p>
          )}
          {brought && brought.features.length > 0 && (
            <p className="text-soft">
              {brought.features.length} feature{brought.features.length > 1 ? 's' : ''} that turning does not make
            </p>
          )}
        </Section>
      )}
      {part && (
        <Section title={planned ? 'Take it as' : 'Take it'}>
          {planned && (
            <Choice
              label="Take it as"
              className="mb-2 w-full"
              value={asRevision ? 'revision' : 'part'}
              options={[
                { value: 'revision', label: 'new revision: spans follow their elements' },
                { value: 'part', label: 'another part: operations start anew' },
              ]}
              onChange={(v) => setAsRevision(v === 'revision')}
            />
          )}
          {planned && asRevision && (
            <label className="mb-2 flex items-center gap-2">
              <span className="w-16 text-soft">Revision</span>
              <input
                className="field !font-text w-24"
                aria-label="New revision"
                maxLength={40}
                value={revision}
                onChange={(e) => setRevision(e.target.value)}
              />
            </label>
          )}
          {planned && asRevision && <Report bringing={bringing} />}
          <div className="mt-2 flex gap-2">
            <Button
              tone="primary"
              disabled={bringing.stage !== null}
              onClick={() => take(planned && asRevision ? revision : null)}
            >
              <Check size={14} /> {planned && asRevision ? `Take revision ${revision}` : 'Take this part'}
            </Button>
            <Button onClick={cancel}>Cancel</Button>
          </div>
        </Section>
      )}
    </div>
  );
};

/** B after A, 3 after 2. */
export const nextRevision = (now: string): string => {
  const last = now.slice(-1);
  if (/[A-Ya-y0-8]/.test(last)) return now.slice(0, -1) + String.fromCharCode(last.charCodeAt(0) + 1);
  return `${now}1`;
};

const Choices = ({ bringing }: { bringing: Bringing }) => {
  const { wish, set } = usePart.getState();
  const facePick = usePart((s) => s.facePick);
  const { brought, wishes } = bringing;
  if (!brought) return null;
  if (brought.kind === 'dxf') {
    const w = wishes.dxf;
    return (
      <Section title="How it is read">
        <Row label="Unit">
          <Choice
            label="Unit of the drawing"
            className="w-32"
            value={w.unit}
            options={[
              { value: 'file', label: 'as it says' },
              { value: 'mm', label: 'mm' },
              { value: 'inch', label: 'inch' },
            ]}
            onChange={(v) => wish((k) => ({ ...k, dxf: { ...k.dxf, unit: v as typeof w.unit } }))}
          />
        </Row>
        <Row label="Close gaps up to" unit="mm">
          <NumberField
            label="Close gaps up to"
            value={w.gap}
            step={0.01}
            onChange={(v) => v !== null && v > 0 && wish((k) => ({ ...k, dxf: { ...k.dxf, gap: v } }))}
          />
        </Row>
        <p className="eyebrow mt-2">Layers</p>
        {brought.layers.map((l) => (
          <div key={l.name} className="flex min-h-7 items-center gap-2">
            <Toggle
              label={`Layer ${l.name}`}
              on={l.used}
              onChange={(on) => {
                const used = brought.layers.filter((k) => (k.name === l.name ? on : k.used)).map((k) => k.name);
                wish((k) => ({ ...k, dxf: { ...k.dxf, layers: used } }));
              }}
            />
            <span className="min-w-0 flex-1 truncate">{l.name}</span>
            <span className="num text-soft">{l.pieces}</span>
          </div>
        ))}
      </Section>
    );
  }
  if (brought.kind === 'stl') {
    const w = wishes.stl;
    return (
      <Section title="How it is read">
        <Row label="Unit of the file">
          <Choice
            label="Unit of the mesh"
            className="w-32"
            value={w.unit}
            options={[
              { value: 'mm', label: 'mm' },
              { value: 'inch', label: 'inch' },
            ]}
            onChange={(v) => wish((k) => ({ ...k, stl: { ...k.stl, unit: v as 'mm' | 'inch' } }))}
          />
        </Row>
        <Row label="Axis">
          <Choice
            label="Axis of the mesh"
            className="w-32"
            value={w.axis ?? 'found'}
            options={[
              { value: 'found', label: 'found' },
              { value: 'x', label: 'X of the file' },
              { value: 'y', label: 'Y of the file' },
              { value: 'z', label: 'Z of the file' },
            ]}
            onChange={(v) =>
              wish((k) => ({ ...k, stl: { ...k.stl, axis: v === 'found' ? null : (v as 'x' | 'y' | 'z') } }))
            }
          />
        </Row>
        <Row label="Fit within" unit="mm" help="Lines and arcs stay this near to the mesh.">
          <NumberField
            label="Fit within"
            value={w.tolerance}
            step={0.005}
            onChange={(v) => v !== null && v > 0 && wish((k) => ({ ...k, stl: { ...k.stl, tolerance: v } }))}
          />
        </Row>
        <Row label="Front and back">
          <Button onClick={() => wish((k) => ({ ...k, stl: { ...k.stl, flip: !k.stl.flip } }))}>
            <FlipHorizontal2 size={14} /> Turn round
          </Button>
        </Row>
      </Section>
    );
  }
  const w = wishes.step;
  const solid = brought.solid;
  const step = (change: Partial<typeof w>): void => wish((k) => ({ ...k, step: { ...k.step, ...change } }));
  return (
    <Section title="How it is read">
      {solid && solid.solids.length > 1 && (
        <Row label="Solid">
          <Choice
            label="Solid"
            className="w-44"
            value={String(w.solid)}
            options={solid.solids.map((s, i) => ({
              value: String(i),
              label: `${i + 1}: ${s.faces} faces, ${s.size.map((v) => n(v, 1)).join(' × ')}`,
            }))}
            onChange={(v) => step({ solid: Number(v), axisFace: null, zeroFace: null })}
          />
        </Row>
      )}
      <Row
        label="Profile"
        help="The silhouette is what the solid sweeps as it turns: right for parts with flats, holes or slots. A cut shows one plane."
      >
        <Choice
          label="Profile"
          className="w-44"
          value={w.section}
          options={[
            { value: 'silhouette', label: 'swept silhouette' },
            { value: 'cut', label: 'plain cut' },
          ]}
          onChange={(v) => step({ section: v as typeof w.section })}
        />
      </Row>
      {w.section === 'cut' && (
        <Row label="Cut at" unit="°">
          <NumberField
            label="Angle of the cut"
            value={w.angle}
            step={5}
            onChange={(v) => v !== null && step({ angle: v })}
          />
        </Row>
      )}
      <Row label="Axis" unit="">
        <span className="num truncate text-soft">{brought.axis ? `(${vector(brought.axis.direction)})` : 'none'}</span>
      </Row>
      <div className="flex flex-wrap gap-1.5 py-1">
        <Button
          className={cx(facePick === 'axis' && '!border-woad !bg-woad-pale')}
          aria-pressed={facePick === 'axis'}
          onClick={() => set({ facePick: facePick === 'axis' ? null : 'axis', view: 'both' })}
        >
          <MousePointerClick size={14} /> Axis from a face
        </Button>
        <Button onClick={() => step({ flip: !w.flip })}>
          <FlipHorizontal2 size={14} /> Turn round
        </Button>
        <Button
          className={cx(facePick === 'zero' && '!border-woad !bg-woad-pale')}
          aria-pressed={facePick === 'zero'}
          onClick={() => set({ facePick: facePick === 'zero' ? null : 'zero', view: 'both' })}
        >
          <MousePointerClick size={14} /> Zero on a face
        </Button>
        {(w.axisFace !== null || w.zeroFace !== null || w.flip || w.front !== 0 || w.turn !== 0) && (
          <Button onClick={() => step({ axisFace: null, zeroFace: null, flip: false, front: 0, turn: 0 })}>
            As found
          </Button>
        )}
      </div>
      {facePick && (
        <p className="text-woad">
          Click a face in the 3D view:{' '}
          {facePick === 'axis' ? 'its own axis (or direction) becomes the turning axis.' : 'Z0 moves to it.'}
        </p>
      )}
      {w.zeroFace === null && (
        <Row label="Front at Z" unit="mm">
          <NumberField
            label="Front at Z"
            unit="mm"
            value={w.front}
            onChange={(v) => v !== null && step({ front: v })}
          />
        </Row>
      )}
      <Row
        label="Angle 0 at"
        unit="°"
        help="Turns the part about its axis: angles of holes and flats, and of the cut, count from here."
      >
        <NumberField label="Angle 0 at" value={w.turn} step={15} onChange={(v) => v !== null && step({ turn: v })} />
      </Row>
      <Row label="Lengths">
        <Choice
          label="Scale"
          className="w-44"
          value={String(w.scale)}
          options={[
            { value: '1', label: 'as the file says' },
            { value: String(1 / 25.4), label: 'inch meant as mm (÷ 25.4)' },
            { value: '25.4', label: 'mm meant as inch (× 25.4)' },
          ]}
          onChange={(v) => step({ scale: Number(v) })}
        />
      </Row>
      {solid && solid.cuts > 1 && <p className="text-soft">The silhouette is made of {solid.cuts} cuts.</p>}
    </Section>
  );
};

/** What a new revision does to the plan: kept, moved, lost. */
const Report = ({ bringing }: { bringing: Bringing }) => {
  const job = useDocument((s) => s.job);
  const part = bringing.brought?.part ?? null;
  const report = useMemo(() => (part ? reviseJob(job, part, job.header.revision) : null), [job, part]);
  if (!report) return null;
  const by = (how: string): number => report.reattached.elements.filter((e) => e.how === how).length;
  const features = report.reattached.features.filter((f) => f.how !== 'kept');
  const hit = report.operations.filter((o) => o.how !== 'kept');
  const old = buildPart(job.part, job.units);
  const name = (id: string): string => {
    const e = allElements(old).find((k) => k.id === id);
    return e ? `Z${n(e.curve.from.x)} ⌀${n(e.curve.from.y * 2)}` : id;
  };
  return (
    <div className="rounded border border-hair bg-white p-2" data-testid="revision-report">
      <p className="num">
        {by('kept')} kept · {by('moved')} moved · {by('lost')} lost · {report.reattached.added.length} new
      </p>
      {features.length > 0 && (
        <ul className="mt-1">
          {features.slice(0, 12).map((f) => (
            <li key={`${f.how}${f.id}`}>
              <span className={f.how === 'lost' ? 'text-madder' : f.how === 'new' ? 'text-verdigris' : 'text-weld'}>
                {f.how === 'lost' ? '✕ lost' : f.how === 'new' ? '+ new' : '→ moved'}
              </span>{' '}
              {describeFeature(f.feature)}
            </li>
          ))}
        </ul>
      )}
      {hit.length > 0 && (
        <ul className="mt-1 border-t border-hair pt-1">
          {hit.map((o) => (
            <li key={o.operation}>
              {o.how === 'lost' ? (
                <span className="text-madder">✕ blocked</span>
              ) : (
                <span className="text-weld">▲ changes</span>
              )}{' '}
              {job.operations[o.operation].name}
              {o.missing.length > 0 ? (
                <span className="text-soft"> (gone: {o.missing.slice(0, 2).map(name).join(', ')})</span>
              ) : null}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
};
