'use client';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { EditorState, RangeSetBuilder, StateEffect, StateField } from '@codemirror/state';
import { Decoration, type DecorationSet, EditorView, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { Download } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { heldByHand } from '@/core/holding';
import { type PostedProgram, programName } from '@/core/nc';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Button, Choice, Section } from '../kit/controls';

const language = StreamLanguage.define<null>({
  startState: () => null,
  token(stream) {
    if (stream.match(/\([^)]*\)?/)) return 'comment';
    if (stream.match(/N\d+/)) return 'labelName';
    if (stream.match(/[GM]\d+(\.\d+)?/)) return 'keyword';
    if (stream.match(/[TS]\d+/)) return 'typeName';
    if (stream.match(/F[\d.]+/)) return 'number';
    if (stream.match(/[XZUWIKRPQ]-?[\d.]+/)) return 'string';
    stream.next();
    return null;
  },
});

const colours = HighlightStyle.define([
  { tag: tags.comment, color: 'var(--color-soft)', fontStyle: 'italic' },
  { tag: tags.labelName, color: 'var(--color-heather)' },
  { tag: tags.keyword, color: 'var(--color-woad)', fontWeight: '600' },
  { tag: tags.typeName, color: 'var(--color-walnut)', fontWeight: '600' },
  { tag: tags.number, color: 'var(--color-verdigris)' },
  { tag: tags.string, color: 'var(--color-ink)' },
]);

const theme = EditorView.theme({
  '&': { height: '100%', fontSize: '12px', backgroundColor: 'var(--color-paper)' },
  '.cm-content': { fontFamily: 'var(--font-number)' },
  '.cm-gutters': {
    backgroundColor: 'var(--color-linen)',
    color: 'var(--color-soft)',
    border: 'none',
    fontFamily: 'var(--font-number)',
  },
  '.cm-line.of-operation': { backgroundColor: 'var(--color-woad-faint)' },
  '.cm-line.of-moment': { backgroundColor: 'var(--color-weld-mid)' },
});

interface Marks {
  readonly operation: readonly number[];
  readonly moment: number | null;
}
const setMarks = StateEffect.define<Marks>();
const marks = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(value, tr) {
    for (const e of tr.effects)
      if (e.is(setMarks)) {
        const builder = new RangeSetBuilder<Decoration>();
        const lines = new Map<number, string>();
        for (const l of e.value.operation) lines.set(l, 'of-operation');
        if (e.value.moment !== null) lines.set(e.value.moment, 'of-moment');
        for (const [l, name] of [...lines].sort((a, b) => a[0] - b[0]))
          if (l >= 1 && l <= tr.state.doc.lines)
            builder.add(tr.state.doc.line(l).from, tr.state.doc.line(l).from, Decoration.line({ class: name }));
        return builder.finish();
      }
    return value;
  },
  provide: (f) => EditorView.decorations.from(f),
});

/** End of an event by its index, s. */
const endOf = (times: Float64Array, index: number): number | null => {
  for (let i = 0; i < times.length; i += 3) if (times[i] === index) return times[i + 2];
  return null;
};

/** Index of the event that runs at a time. */
const eventAt = (times: Float64Array, time: number): number | null => {
  for (let i = 0; i < times.length; i += 3)
    if (time > times[i + 1] - 1e-9 && time <= times[i + 2] + 1e-9 && times[i + 2] > times[i + 1]) return times[i];
  return null;
};

/** One channel's program: a click on a line goes to its move, the time cursor marks the line that runs. */
const ProgramView = ({
  program,
  text,
  times,
}: {
  program: PostedProgram;
  text: string;
  /** Index, start and end of each event. */
  times: Float64Array;
}) => {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const operation = useSelection((s) => s.operation);
  const time = useSelection((s) => s.time);

  useEffect(() => {
    if (!host.current) return;
    const v = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: text.replace(/\n$/, ''),
        extensions: [
          lineNumbers(),
          language,
          syntaxHighlighting(colours),
          theme,
          marks,
          EditorState.readOnly.of(true),
          EditorView.contentAttributes.of({
            'aria-label': `Program of channel ${program.channel}${program.runs > 1 ? `, ${program.run + 1} of ${program.runs}` : ''}`,
            tabindex: '0',
          }),
          EditorView.domEventHandlers({
            click(event, ev) {
              const pos = ev.posAtCoords({ x: event.clientX, y: event.clientY });
              if (pos === null) return false;
              const line = program.lines[ev.state.doc.lineAt(pos).number - 1];
              if (!line?.op) return false;
              const s = useSelection.getState();
              const op = useDerived.getState().view?.operations.find((o) => o.id === line.op);
              const end = line.event === null ? null : endOf(times, line.event);
              s.set({ operation: line.op, time: end ?? op?.times.start ?? s.time, playing: false });
              return false;
            },
          }),
        ],
      }),
    });
    view.current = v;
    return () => v.destroy();
  }, [program, text, times]);

  useEffect(() => {
    const v = view.current;
    if (!v) return;
    const own = program.lines.flatMap((l, i) => (l.op !== null && l.op === operation ? [i + 1] : []));
    const event = eventAt(times, time);
    let moment: number | null = null;
    const last = program.lines.findLast((l) => l.event !== null)?.event ?? null;
    if (event !== null && last !== null && (program.run === program.runs - 1 || event <= last))
      program.lines.forEach((l, i) => {
        if (l.event !== null && l.event <= event) moment = i + 1;
      });
    v.dispatch({
      effects: [
        setMarks.of({ operation: own, moment }),
        ...(moment !== null
          ? [
              EditorView.scrollIntoView(v.state.doc.line(Math.min(moment, v.state.doc.lines)).from, {
                y: 'nearest',
                yMargin: 60,
              }),
            ]
          : []),
      ],
    });
  }, [operation, time, times, program]);

  return <div ref={host} className="h-full min-h-0" data-testid={`program-${nameOf(program)}`} />;
};

const save = (name: string, text: string): void => {
  const url = URL.createObjectURL(new Blob([text], { type: 'text/plain' }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 1000);
};

const safeName = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9._-]+/g, '-')
    .replace(/^[-.]+|[-.]+$/g, '')
    .slice(0, 60) || 'program';

/** A program's name among those of a job. */
const nameOf = (p: PostedProgram): string => (p.runs > 1 ? `${p.run + 1}-${p.channel}` : p.channel);

export const ReleaseTray = () => {
  const job = useDocument((s) => s.job);
  const derived = useDerived((s) => s.view);
  const released = useDerived((s) => s.released);
  const releasedFor = useDerived((s) => s.releasedFor);
  const release = useDerived((s) => s.release);
  const set = useSelection((s) => s.set);
  const edit = useDocument((s) => s.edit);

  // the program follows the plan
  useEffect(() => {
    if (derived && releasedFor !== job) void release().catch(() => undefined);
  }, [derived, job, releasedFor, release]);

  const byHand = job.holdingOrder.slice(1).some((id) => heldByHand(job.holdings[id]));
  const blocking = derived?.findings.filter((f) => f.severity === 'blocking') ?? [];
  const proof = releasedFor === job ? released?.proof : null;
  return (
    <>
      <Section title="Proof by reading back">
        {!proof && <p className="text-soft">Posting, reading the text back and cutting with it …</p>}
        {proof && (
          <div data-testid="proof">
            <p className={proof.ok ? 'text-verdigris' : 'text-madder'}>
              <b>
                {proof.ok
                  ? '● The program does what the plan says.'
                  : proof.agrees
                    ? '✕ The program does what the plan says, and that is no sound plan.'
                    : '✕ Program and plan differ.'}
              </b>
            </p>
            <dl className="num mt-1.5 grid grid-cols-[1fr_auto] gap-x-2 gap-y-0.5">
              <dt className="font-text text-soft">path deviation</dt>
              <dd>{proof.maxDeviation.toFixed(4)} mm</dd>
              <dt className="font-text text-soft">over</dt>
              <dd>{proof.moves} moves</dd>
              <dt className="font-text text-soft">stock differs by</dt>
              <dd>{proof.stock.thickness.toFixed(4)} mm</dd>
              <dt className="font-text text-soft">stock as read</dt>
              <dd>{(proof.stock.volume / 1000).toFixed(3)} cm³</dd>
              <dt className="font-text text-soft">stock as planned</dt>
              <dd>{(proof.stock.plannedVolume / 1000).toFixed(3)} cm³</dd>
            </dl>
            {proof.channels.flatMap((c) => [
              ...c.problems.slice(0, 5).map((p) => (
                <p key={`${c.run}${c.id}${p.line}${p.message}`} className="mt-1 text-madder">
                  Line {p.line}: {p.message}
                </p>
              )),
              ...c.differences.slice(0, 5).map((d) => (
                <p key={`${c.run}${c.id}${d.event}${d.what}`} className="mt-1 text-madder">
                  {d.what}: planned {d.planned}, read {d.read}
                </p>
              )),
            ])}
          </div>
        )}
      </Section>
      {byHand && (
        <Section title="Between the sides">
          <Choice
            label="Between the sides"
            className="w-full"
            value={job.programs}
            options={[
              { value: 'each', label: 'a program for each side' },
              { value: 'one', label: 'one program with a stop' },
            ]}
            onChange={(v) => edit('programs of the sides', (j) => ({ ...j, programs: v as 'each' | 'one' }))}
          />
        </Section>
      )}
      <Section title="Take it to the machine">
        {blocking.length > 0 && (
          <p className="mb-2 text-madder">
            ✕ {blocking.length} finding{blocking.length > 1 ? 's' : ''} block this program.{' '}
            <button type="button" className="underline" onClick={() => set({ phase: 'prove' })}>
              See them
            </button>
          </p>
        )}
        {released &&
          releasedFor === job &&
          released.programs.map((p, i) => (
            <Button
              key={nameOf(p)}
              tone={blocking.length === 0 && proof?.ok ? 'primary' : 'plain'}
              className="mb-1.5 w-full"
              data-testid={`download-${nameOf(p)}`}
              onClick={() => save(programName(safeName(job.header.number), p), released.texts[i])}
            >
              <Download size={14} />{' '}
              {p.runs > 1
                ? `Program ${p.run + 1}${job.machine.channels.length > 1 ? `, channel ${p.channel}` : ''}`
                : `Channel ${p.channel}`}
              : {p.lines.length} lines
            </Button>
          ))}
        <Button
          className="w-full"
          onClick={() => save(`${safeName(job.header.number)}.spindle.json`, `${JSON.stringify(job, null, 2)}\n`)}
        >
          <Download size={14} /> Job file
        </Button>
      </Section>
    </>
  );
};

export const ReleaseCard = () => {
  const released = useDerived((s) => s.released);
  const job = useDocument((s) => s.job);
  const fresh = useDerived((s) => s.releasedFor === job);
  if (!released) return <p className="p-3 text-soft">The program appears here.</p>;
  return (
    <div className={`flex h-full gap-px bg-hair ${fresh ? '' : 'opacity-50'}`}>
      {released.programs.map((p, i) => (
        <div key={nameOf(p)} className="min-w-0 flex-1 bg-paper">
          <ProgramView program={p} text={released.texts[i]} times={released.times[i]} />
        </div>
      ))}
    </div>
  );
};
