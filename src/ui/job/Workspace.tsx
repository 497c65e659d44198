'use client';
import { Tooltip } from 'radix-ui';
import { useEffect, useState } from 'react';
import { Group, Panel, Separator } from 'react-resizable-panels';
import type { Job } from '@/core/plan';
import { PartCard } from '../card/ElementTable';
import { OperationCard } from '../card/OperationCard';
import { Centreline } from '../centreline/Centreline';
import { ask } from '../house/ask';
import { Button } from '../kit/controls';
import { Lanes } from '../lanes/Lanes';
import { ReleaseCard, ReleaseTray } from '../nc/Release';
import { Views } from '../scene/Views';
import { HoldCard, HoldTray } from '../tray/Hold';
import { PartTray } from '../tray/PartTray';
import { PlanTray } from '../tray/PlanTray';
import { ProveCard, ProveTray } from '../tray/ProveTray';
import { ToolCard } from '../tray/ToolCard';
import { ToolTray } from '../tray/ToolTray';
import { ConflictDialog } from './Conflict';
import { useDocument } from './document';
import { keepsUnsaved } from './kept';
import { CommandSearch, KeyHelp, useKeys } from './keys';
import { hasUnsaved } from './saving';
import { PHASES, type Phase, useSelection } from './selection';
import { openJob } from './session';
import { TopStrip } from './TopStrip';
import { watchJob } from './watch';

const Tray = ({ phase }: { phase: Phase }) => {
  switch (phase) {
    case 'part':
      return <PartTray />;
    case 'hold':
      return <HoldTray />;
    case 'tool':
      return <ToolTray />;
    case 'plan':
      return <PlanTray />;
    case 'prove':
      return <ProveTray />;
    case 'release':
      return <ReleaseTray />;
    default:
      return phase satisfies never;
  }
};

const Card = ({ phase }: { phase: Phase }) => {
  const operation = useSelection((s) => s.operation);
  const exists = useDocument((s) => operation !== null && operation in s.job.operations);
  if (phase === 'part') return <PartCard />;
  if (phase === 'hold') return <HoldCard />;
  if (phase === 'tool') return <ToolCard />;
  if (phase === 'release') return <ReleaseCard />;
  if (operation && exists) return <OperationCard id={operation} />;
  if (phase === 'prove') return <ProveCard />;
  return (
    <div className="p-3 text-soft">
      <p className="mb-2">Choose an operation below to edit it, or a piece of the contour to see what can cut it.</p>
      <p>Double-click an operation to play it.</p>
    </div>
  );
};

const remembered = (key: string, fallback: Record<string, number>): Record<string, number> => {
  try {
    return { ...fallback, ...(JSON.parse(window.localStorage.getItem(key) ?? '{}') as Record<string, number>) };
  } catch {
    return fallback;
  }
};

interface Opened {
  readonly version: number;
  readonly document: Job;
}

/** The two pictures, always linked: where above, when below; tray at the left, card at the right. */
export const Workspace = ({ id, title, phase: first }: { id: string; title: string; phase: string | null }) => {
  const ready = useDocument((s) => s.id === id && s.job !== null);
  const [problem, setProblem] = useState<string | null>(null);
  const [attempt, setAttempt] = useState(0);
  const [current, setCurrent] = useState(false);
  const phase = useSelection((s) => s.phase);
  const [search, setSearch] = useState(false);
  const [help, setHelp] = useState(false);
  // biome-ignore lint/correctness/useExhaustiveDependencies: opened once for each job and attempt
  useEffect(() => {
    let ended = false;
    let unwatch = (): void => undefined;
    // never from what the browser remembers of the page: the back button shows the newest
    setCurrent(false);
    void ask<Opened>('GET', `/api/jobs/${id}`).then((got) => {
      if (ended) return;
      if (!got.ok) {
        setProblem(got.status === 404 ? 'This job is not there any more.' : got.message);
        return;
      }
      const { document, version } = got.body;
      setProblem(null);
      const usual = Object.keys(document.operations).length === 0 ? 'part' : 'plan';
      openJob(id, document, version, PHASES.includes(first as Phase) ? (first as Phase) : usual);
      unwatch = watchJob(id);
      setCurrent(true);
    });
    return () => {
      ended = true;
      unwatch();
    };
  }, [id, attempt]);
  useEffect(() => {
    // what is unsaved is kept in the browser; only where that cannot be done the window warns before it closes
    const warn = (e: BeforeUnloadEvent): void => {
      if (hasUnsaved() && !keepsUnsaved()) e.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  }, []);
  useKeys(ready && current, { openSearch: () => setSearch(true), openHelp: () => setHelp(true) });
  if (problem)
    return (
      <main className="p-10">
        <h1 className="mb-2 text-[18px] font-semibold">{title} cannot be opened.</h1>
        <p className="mb-4 text-soft">{problem}</p>
        <div className="flex gap-2">
          <Button tone="primary" onClick={() => setAttempt(attempt + 1)}>
            Try again
          </Button>
          <Button onClick={() => window.location.assign('/')}>Back to the jobs</Button>
        </div>
      </main>
    );
  if (!ready || !current) return <div className="p-6 text-soft">Opening {title} …</div>;
  return <Shell phase={phase} search={search} setSearch={setSearch} help={help} setHelp={setHelp} />;
};

const Shell = ({
  phase,
  search,
  setSearch,
  help,
  setHelp,
}: {
  phase: Phase;
  search: boolean;
  setSearch: (v: boolean) => void;
  help: boolean;
  setHelp: (v: boolean) => void;
}) => {
  const wide = phase === 'release' || phase === 'part';
  // lanes of several channels want more room than one
  const channels = useDocument((s) => s.job.machine.channels.length);
  const key = channels > 1 ? `lively.rows.${channels}` : 'lively.rows';
  const [rows] = useState(() => remembered(key, channels > 1 ? { top: 60, bottom: 40 } : { top: 74, bottom: 26 }));
  return (
    <Tooltip.Provider>
      <div className="flex h-screen flex-col">
        <TopStrip onSearch={() => setSearch(true)} onHelp={() => setHelp(true)} />
        <Group
          orientation="vertical"
          className="min-h-0 flex-1"
          defaultLayout={rows}
          onLayoutChanged={(l) => window.localStorage.setItem(key, JSON.stringify(l))}
        >
          <Panel id="top" minSize="35%">
            <div className="flex h-full">
              <aside
                aria-label="Tray"
                className="w-[228px] relative shrink-0 overflow-y-auto border-r border-hair bg-paper"
                data-testid="tray"
              >
                <Tray phase={phase} />
              </aside>
              <div className="min-w-0 flex-1">
                <Views section={<Centreline />} />
              </div>
              <aside
                aria-label="Card"
                className={`${wide ? 'w-[420px]' : 'w-[312px]'} relative shrink-0 overflow-y-auto border-l border-hair bg-paper`}
                data-testid="card"
              >
                <Card phase={phase} />
              </aside>
            </div>
          </Panel>
          <Separator className="h-1 bg-hair data-[separator]:hover:bg-woad" />
          <Panel id="bottom" minSize="15%">
            <Lanes />
          </Panel>
        </Group>
        <ConflictDialog />
        <CommandSearch open={search} onClose={() => setSearch(false)} />
        <KeyHelp open={help} onClose={() => setHelp(false)} />
      </div>
    </Tooltip.Provider>
  );
};
