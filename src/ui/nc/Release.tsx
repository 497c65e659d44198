'use client';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { EditorState, RangeSetBuilder, StateEffect, StateField } from '@codemirror/state';
import { Decoration, type DecorationSet, EditorView, lineNumbers } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { Download } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { PostedProgram } from '@/core/nc';
import { useJob } from '../job/store';
import { Button, Section } from '../kit/controls';

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
  { tag: tags.comment, color: '#565f63', fontStyle: 'italic' },
  { tag: tags.labelName, color: '#7b5a8e' },
  { tag: tags.keyword, color: '#2e4a7d', fontWeight: '600' },
  { tag: tags.typeName, color: '#7a5230', fontWeight: '600' },
  { tag: tags.number, color: '#256a5c' },
  { tag: tags.string, color: '#1f2a30' },
]);

const theme = EditorView.theme({
  '&': { height: '100%', fontSize: '12px', backgroundColor: '#fbfaf6' },
  '.cm-content': { fontFamily: 'var(--font-number)' },
  '.cm-gutters': { backgroundColor: '#f4f1ea', color: '#5e6a6e', border: 'none', fontFamily: 'var(--font-number)' },
  '.cm-line.of-operation': { backgroundColor: '#e4e9f1' },
  '.cm-line.of-moment': { backgroundColor: '#f3dcae' },
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

/** One channel's program: a click on a line goes to its move, the time cursor marks the line that runs. */
const ProgramView = ({ program, text }: { program: PostedProgram; text: string }) => {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const derived = useJob((s) => s.derived);
  const operation = useJob((s) => s.operation);
  const time = useJob((s) => s.time);
  const timeline = derived?.timeline.channels.find((c) => c.id === program.channel);

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
          EditorView.contentAttributes.of({ 'aria-label': `Program of channel ${program.channel}`, tabindex: '0' }),
          EditorView.domEventHandlers({
            click(event, ev) {
              const pos = ev.posAtCoords({ x: event.clientX, y: event.clientY });
              if (pos === null) return false;
              const line = program.lines[ev.state.doc.lineAt(pos).number - 1];
              const s = useJob.getState();
              if (!line?.op) return false;
              const t =
                line.event !== null
                  ? s.derived?.timeline.channels
                      .find((c) => c.id === program.channel)
                      ?.events.find((k) => k.index === line.event)
                  : undefined;
              const op = s.derived?.operations.find((o) => o.id === line.op);
              s.set({ operation: line.op, time: t ? t.end : (op?.times.start ?? s.time), playing: false });
              return false;
            },
          }),
        ],
      }),
    });
    view.current = v;
    return () => v.destroy();
  }, [program, text]);

  useEffect(() => {
    const v = view.current;
    if (!v) return;
    const own = program.lines.flatMap((l, i) => (l.op !== null && l.op === operation ? [i + 1] : []));
    const event = timeline?.events.find((t) => time > t.start - 1e-9 && time <= t.end + 1e-9 && t.end > t.start);
    let moment: number | null = null;
    if (event)
      program.lines.forEach((l, i) => {
        if (l.event !== null && l.event <= event.index && l.op === event.event.op) moment = i + 1;
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
  }, [operation, time, timeline, program]);

  return <div ref={host} className="h-full min-h-0" data-testid={`program-${program.channel}`} />;
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

export const ReleaseTray = () => {
  const job = useJob((s) => s.job);
  const derived = useJob((s) => s.derived);
  const released = useJob((s) => s.released);
  const releasedFor = useJob((s) => s.releasedFor);
  const release = useJob((s) => s.release);
  const set = useJob((s) => s.set);

  // the program follows the plan
  useEffect(() => {
    if (derived && releasedFor !== job) void release().catch(() => undefined);
  }, [derived, job, releasedFor, release]);

  const blocking = derived?.findings.filter((f) => f.severity === 'blocking') ?? [];
  const proof = releasedFor === job ? released?.proof : null;
  return (
    <>
      <Section title="Proof by reading back">
        {!proof && <p className="text-soft">Posting, reading the text back and cutting with it …</p>}
        {proof && (
          <div data-testid="proof">
            <p className={proof.ok ? 'text-verdigris' : 'text-madder'}>
              <b>{proof.ok ? '● The program does what the plan says.' : '✕ Program and plan differ.'}</b>
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
                <p key={`${c.id}${p.line}${p.message}`} className="mt-1 text-madder">
                  Line {p.line}: {p.message}
                </p>
              )),
              ...c.differences.slice(0, 5).map((d) => (
                <p key={`${c.id}${d.event}${d.what}`} className="mt-1 text-madder">
                  {d.what}: planned {d.planned}, read {d.read}
                </p>
              )),
            ])}
          </div>
        )}
      </Section>
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
              key={p.channel}
              tone={blocking.length === 0 && proof?.ok ? 'primary' : 'plain'}
              className="mb-1.5 w-full"
              data-testid={`download-${p.channel}`}
              onClick={() => save(`${safeName(job.header.number)}-ch${p.channel}.nc`, released.texts[i])}
            >
              <Download size={14} /> Channel {p.channel}: {p.lines.length} lines
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
  const released = useJob((s) => s.released);
  const fresh = useJob((s) => s.releasedFor === s.job);
  if (!released) return <p className="p-3 text-soft">The program appears here.</p>;
  return (
    <div className={`flex h-full gap-px bg-hair ${fresh ? '' : 'opacity-50'}`}>
      {released.programs.map((p, i) => (
        <div key={p.channel} className="min-w-0 flex-1 bg-paper">
          <ProgramView program={p} text={released.texts[i]} />
        </div>
      ))}
    </div>
  );
};
