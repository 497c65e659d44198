'use client';
import { Command } from 'cmdk';
import { Dialog } from 'radix-ui';
import { useEffect } from 'react';
import { toast } from 'sonner';
import { deviceCalls } from '@/core/dialects';
import { CUTTING_KINDS, type CuttingKind, kindOf, LONE_ACTORS, namesOf } from '@/core/operations';
import { freshId, newActor, newOperation, takesTool } from '@/core/plan';
import { useMeasure } from '../measure/store';
import { usePart } from '../part/store';
import { useDerived } from './derived';
import { useDocument } from './document';
import { addOperation, removeOperation } from './edits';
import { PHASES, type Phase, shownHolding, useSelection } from './selection';

const fire = (name: string, detail?: number): void => {
  window.dispatchEvent(new CustomEvent(`lively:${name}`, { detail }));
};

const togglePlay = (): void => {
  const s = useSelection.getState();
  const total = useDerived.getState().view?.total ?? 0;
  s.set(s.playing ? { playing: false } : { playing: true, stopAt: null, time: s.time >= total - 1e-6 ? 0 : s.time });
};

const playOperation = (): void => {
  const s = useSelection.getState();
  const d = useDerived.getState().view?.operations.find((o) => o.id === s.operation);
  if (d?.moves) s.set({ time: d.times.start, playing: true, stopAt: d.times.end });
};

const undo = (): void => {
  const label = useDocument.getState().undo();
  if (label) toast(`Undone: ${label}`, { duration: 1500 });
};
const redo = (): void => {
  const label = useDocument.getState().redo();
  if (label) toast(`Done again: ${label}`, { duration: 1500 });
};

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.tagName === 'INPUT' || target.tagName === 'TEXTAREA' || target.isContentEditable) &&
  !(target instanceof HTMLInputElement && target.type === 'checkbox');

export const KEYS: readonly (readonly [string, string])[] = [
  ['1 – 6', 'phases Part to Release'],
  ['Space', 'run or stop'],
  ['P', 'play the chosen operation'],
  [', .', 'step a move back, on'],
  ['[ ]', 'previous, next operation'],
  ['0', 'fit the drawing'],
  ['M', 'measure'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['Ctrl K', 'find a command'],
  ['Alt ← →', 'move the focused operation in the order'],
  ['Delete', 'delete the chosen operation'],
  ['Shift click', 'extend the span'],
  ['?', 'all keys'],
];

export const useKeys = (ready: boolean, on: { openSearch: () => void; openHelp: () => void }): void => {
  useEffect(() => {
    if (!ready) return;
    const down = (e: KeyboardEvent): void => {
      const key = e.key.toLowerCase();
      if ((e.ctrlKey || e.metaKey) && key === 'k') {
        e.preventDefault();
        on.openSearch();
        return;
      }
      if ((e.ctrlKey || e.metaKey) && (key === 'z' || key === 'y')) {
        if (typing(e.target)) (e.target as HTMLElement).blur();
        e.preventDefault();
        if (key === 'y' || e.shiftKey) redo();
        else undo();
        return;
      }
      if (typing(e.target) || e.ctrlKey || e.metaKey || e.altKey || document.querySelector('[role="dialog"]')) return;
      const s = useSelection.getState();
      if (/^[1-6]$/.test(e.key)) s.set({ phase: PHASES[Number(e.key) - 1] as Phase });
      else if (e.key === ' ') {
        // a focused button keeps its own Space
        if (e.target instanceof HTMLButtonElement) return;
        e.preventDefault();
        togglePlay();
      } else if (key === 'p') playOperation();
      else if (e.key === ',') fire('step', -1);
      else if (e.key === '.') fire('step', 1);
      else if (e.key === '[') fire('jump', -1);
      else if (e.key === ']') fire('jump', 1);
      else if (e.key === '0') fire('fit');
      else if (e.key === '?') on.openHelp();
      else if (key === 'm') useMeasure.getState().toggle();
      else if (e.key === 'Escape') {
        if (useMeasure.getState().on) useMeasure.getState().end();
        else s.set({ span: null, operation: null });
      } else if (e.key === 'Delete' && s.operation) {
        const name = useDocument.getState().job.operations[s.operation].name;
        removeOperation(s.operation);
        toast(`“${name}” is deleted.`, { action: { label: 'Undo', onClick: undo } });
      }
    };
    window.addEventListener('keydown', down);
    return () => window.removeEventListener('keydown', down);
  }, [ready, on]);
};

export const CommandSearch = ({ open, onClose }: { open: boolean; onClose: () => void }) => {
  const job = useDocument((s) => s.job);
  const run = (f: () => void): (() => void) => {
    return () => {
      onClose();
      f();
    };
  };
  const add = (kind: CuttingKind): void => {
    const { tools, side } = kindOf({ kind });
    const tool = Object.values(job.tools).find((t) => takesTool(job, tools, t)) ?? null;
    const chosen = useSelection.getState();
    // on what is picked, where that is of its side
    const span = chosen.span?.side === side ? { from: chosen.span.from, to: chosen.span.to } : null;
    addOperation(newOperation(job, kind, tool, span, freshId(job), shownHolding(job, chosen)));
  };
  const act = (kind: (typeof LONE_ACTORS)[number]): void => {
    const holding = shownHolding(job, useSelection.getState());
    // where the work of that side is done last
    const channel = Object.values(job.operations).findLast((o) => o.holding === holding)?.channel;
    const at = { id: freshId(job), holding, channel: channel ?? job.machine.channels[0].id };
    const params = kind === 'device' ? { action: deviceCalls(job.machine)[0]?.name ?? '' } : {};
    addOperation(newActor(kind, at, params));
  };
  const item = 'flex h-8 cursor-pointer items-center rounded px-2 data-[selected=true]:bg-woad-pale';
  return (
    <Dialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-20 z-50 w-[440px] -translate-x-1/2 rounded border border-soft bg-paper p-2"
        >
          <Dialog.Title className="sr-only">Find a command</Dialog.Title>
          <Command label="Find a command">
            <Command.Input placeholder="phase, operation, command" className="field !font-text mb-2 !h-8 w-full" />
            <Command.List className="max-h-80 overflow-y-auto">
              <Command.Empty className="p-2 text-soft">Nothing has these words.</Command.Empty>
              {PHASES.map((p) => (
                <Command.Item key={p} className={item} onSelect={run(() => useSelection.getState().set({ phase: p }))}>
                  Go to {p[0].toUpperCase() + p.slice(1)}
                </Command.Item>
              ))}
              {CUTTING_KINDS.map((k) => (
                <Command.Item key={k.kind} className={item} onSelect={run(() => add(k.kind))}>
                  Add {k.label.toLowerCase()}
                </Command.Item>
              ))}
              {LONE_ACTORS.map((kind) => (
                <Command.Item key={kind} className={item} onSelect={run(() => act(kind))}>
                  Add {namesOf({ kind }).label.toLowerCase()}
                </Command.Item>
              ))}
              {Object.values(job.operations).map((o) => (
                <Command.Item
                  key={o.id}
                  value={`operation ${o.name} ${o.id}`}
                  className={item}
                  onSelect={run(() => useSelection.getState().set({ operation: o.id, phase: 'plan' }))}
                >
                  Operation: {o.name}
                </Command.Item>
              ))}
              <Command.Item className={item} onSelect={run(togglePlay)}>
                Run or stop
              </Command.Item>
              <Command.Item className={item} onSelect={run(() => fire('fit'))}>
                Fit the drawing
              </Command.Item>
              <Command.Item className={item} onSelect={run(() => useMeasure.getState().toggle())}>
                Measure
              </Command.Item>
              {(['section', 'both', 'solid'] as const).map((v) => (
                <Command.Item
                  key={v}
                  value={`view ${v} 3D`}
                  className={item}
                  onSelect={run(() => usePart.getState().set({ view: v }))}
                >
                  View: {v === 'section' ? 'section' : v === 'both' ? 'section and 3D' : '3D'}
                </Command.Item>
              ))}
              <Command.Item className={item} onSelect={run(undo)}>
                Undo
              </Command.Item>
              <Command.Item className={item} onSelect={run(redo)}>
                Redo
              </Command.Item>
              <Command.Item className={item} onSelect={run(() => window.location.assign('/'))}>
                All jobs
              </Command.Item>
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
};

export const KeyHelp = ({ open, onClose }: { open: boolean; onClose: () => void }) => (
  <Dialog.Root open={open} onOpenChange={(o) => !o && onClose()}>
    <Dialog.Portal>
      <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
      <Dialog.Content
        aria-describedby={undefined}
        className="fixed left-1/2 top-20 z-50 w-[440px] -translate-x-1/2 rounded border border-soft bg-paper p-5"
      >
        <Dialog.Title className="mb-2 text-[16px] font-semibold">Keys</Dialog.Title>
        <dl className="grid grid-cols-[auto_1fr] gap-x-5 gap-y-1">
          {KEYS.map(([key, what]) => (
            <div key={key} className="contents">
              <dt className="num">{key}</dt>
              <dd>{what}</dd>
            </div>
          ))}
        </dl>
      </Dialog.Content>
    </Dialog.Portal>
  </Dialog.Root>
);
