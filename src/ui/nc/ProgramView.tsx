'use client';
import { HighlightStyle, StreamLanguage, syntaxHighlighting } from '@codemirror/language';
import { EditorState, RangeSetBuilder, StateEffect, StateField, Text } from '@codemirror/state';
import { Decoration, type DecorationSet, EditorView, lineNumbers, WidgetType } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import { useEffect, useRef } from 'react';
import type { PostedProgram } from '@/core/nc';
import { useDerived } from '../job/derived';
import { useSelection } from '../job/selection';
import type { Gap } from './linedUp';

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

/** Height of a line, px. */
const ROW = 17;

/** Empty rows in which a channel waits for its partners. */
class Waiting extends WidgetType {
  constructor(
    readonly rows: number,
    readonly mark: number,
  ) {
    super();
  }
  override eq(other: Waiting): boolean {
    return other.rows === this.rows && other.mark === this.mark;
  }
  override get estimatedHeight(): number {
    return this.rows * ROW;
  }
  override toDOM(): HTMLElement {
    const box = document.createElement('div');
    box.style.height = `${this.rows * ROW}px`;
    box.className = 'waiting-rows';
    box.textContent = `until mark ${this.mark}`;
    return box;
  }
}

const theme = EditorView.theme({
  '&': { height: '100%', fontSize: '12px', backgroundColor: 'var(--color-paper)' },
  '.cm-content': { fontFamily: 'var(--font-number)' },
  '.cm-gutters': {
    backgroundColor: 'var(--color-linen)',
    color: 'var(--color-soft)',
    border: 'none',
    fontFamily: 'var(--font-number)',
  },
  '.cm-line': { lineHeight: `${ROW}px` },
  '.cm-line.of-operation': { backgroundColor: 'var(--color-woad-faint)' },
  '.waiting-rows': {
    display: 'flex',
    alignItems: 'end',
    paddingLeft: '6px',
    fontFamily: 'var(--font-text)',
    color: 'var(--color-soft)',
    borderLeft: '2px dotted var(--color-hair)',
    marginLeft: '4px',
  },
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

/** Empty rows as widgets in front of their lines. */
const rowsOf = (doc: Text, gaps: readonly Gap[]): DecorationSet => {
  const builder = new RangeSetBuilder<Decoration>();
  for (const g of gaps) {
    if (g.line > doc.lines) continue;
    const at = doc.line(g.line).from;
    builder.add(at, at, Decoration.widget({ widget: new Waiting(g.rows, g.mark), block: true, side: -1 }));
  }
  return builder.finish();
};

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
export const ProgramView = ({
  program,
  name,
  text,
  times,
  gaps,
  beside,
}: {
  program: PostedProgram;
  name: string;
  text: string;
  /** Empty rows in front of lines, so that waits stand beside their partners'. */
  gaps: readonly Gap[];
  /** The columns that scroll with this one. */
  beside: Set<EditorView>;
  /** Index, start and end of each event. */
  times: Float64Array;
}) => {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const operation = useSelection((s) => s.operation);
  const time = useSelection((s) => s.time);

  useEffect(() => {
    if (!host.current) return;
    const doc = Text.of(text.replace(/\n$/, '').split('\n'));
    const v = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc,
        extensions: [
          lineNumbers(),
          language,
          syntaxHighlighting(colours),
          theme,
          marks,
          EditorState.readOnly.of(true),
          EditorView.decorations.of(rowsOf(doc, gaps)),
          EditorView.contentAttributes.of({
            'aria-label': `Program of channel ${program.channel}${program.runs > 1 ? `, ${program.run + 1} of ${program.runs}` : ''}`,
            tabindex: '0',
          }),
          EditorView.domEventHandlers({
            scroll(_event, ev) {
              const { scrollTop } = ev.scrollDOM;
              for (const other of beside)
                if (other !== ev && Math.abs(other.scrollDOM.scrollTop - scrollTop) > 1)
                  other.scrollDOM.scrollTop = scrollTop;
              return false;
            },
            click(event, ev) {
              const pos = ev.posAtCoords({ x: event.clientX, y: event.clientY });
              if (pos === null) return false;
              const line = program.lines[ev.state.doc.lineAt(pos).number - 1];
              if (!line?.op) return false;
              const s = useSelection.getState();
              const op = useDerived.getState().view?.operations.find((o) => o.id === line.op);
              const end = line.event === null ? null : endOf(times, line.event);
              s.set({ operation: op?.operation ?? line.op, time: end ?? op?.times.start ?? s.time, playing: false });
              return false;
            },
          }),
        ],
      }),
    });
    view.current = v;
    beside.add(v);
    return () => {
      beside.delete(v);
      v.destroy();
    };
  }, [program, text, times, gaps, beside]);

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

  return <div ref={host} className="h-full min-h-0" data-testid={`program-${name}`} />;
};
