import { Copy, Eye, EyeOff, Play, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { type CuttingOperation, isCutting, namesOf, type Operation } from '@/core/operations';
import { type OperationView, stationOf } from '@/core/plan';
import { toolFacts } from '@/core/tooling';
import { useDerived } from '../job/derived';
import { useDocument } from '../job/document';
import { changeOperation, copyOperation, removeOperation } from '../job/edits';
import { useSelection } from '../job/selection';
import { IconButton, Section, TextField } from '../kit/controls';
import { longSeconds, StateMark } from '../kit/state';
import { FindingList } from './Findings';

const Bar = ({ share }: { share: number }) => (
  <span className="h-1 w-16 shrink-0 rounded bg-hair">
    <span
      className="block h-1 rounded"
      style={{
        width: `${Math.min(1, share) * 100}%`,
        background: share > 1 ? 'var(--color-madder)' : 'var(--color-woad)',
      }}
    />
  </span>
);

const LoadRow = ({ label, share, text }: { label: string; share: number; text: string }) => (
  <div className="flex h-7 items-center gap-2">
    <span className="min-w-0 flex-1 truncate">{label}</span>
    <Bar share={share} />
    <span className="num w-32 shrink-0 whitespace-nowrap text-right">{text}</span>
  </div>
);

const LoadValue = ({ label, text }: { label: string; text: string }) => (
  <div className="flex h-7 items-center gap-2">
    <span className="min-w-0 flex-1 truncate">{label}</span>
    <span className="num shrink-0 text-right">{text}</span>
  </div>
);

/** The operation as it was last derived. */
const useDerivedOperation = (id: string): OperationView | undefined =>
  useDerived((s) => s.view?.operations.find((o) => o.id === id));

/** Name, state, findings and time of an operation, and what can be done with the whole of it. */
export const CardHead = ({
  op,
  change,
}: {
  op: Operation;
  change: (label: string, path: string, value: unknown) => void;
}) => {
  const job = useDocument((s) => s.job);
  const set = useSelection((s) => s.set);
  const d = useDerivedOperation(op.id);
  const station = op.tool ? stationOf(job, op.tool) : null;
  return (
    <div className="border-b border-hair p-3">
      <div className="flex items-start gap-2">
        <span className="mt-0.5 h-9 w-1.5 shrink-0 rounded bg-woad" />
        <div className="min-w-0 flex-1">
          <TextField
            label="Name of the operation"
            className="w-full !border-transparent !bg-transparent !px-0 text-[15px] font-semibold hover:!border-hair"
            value={op.name}
            onChange={(v) => change('Name', 'name', v.slice(0, 120))}
          />
          <div className="truncate text-soft">
            {namesOf(op).label} · {isCutting(op) ? `${station === null ? 'no station' : `T${station}`} · ` : ''}channel{' '}
            {op.channel}
          </div>
        </div>
        {d && <StateMark state={d.state} />}
      </div>
      <div className="mt-1.5 flex items-center">
        <IconButton
          label="Play this operation (P)"
          onClick={() => d && set({ time: d.times.start, playing: true, stopAt: d.times.end })}
          disabled={!d?.moves}
        >
          <Play size={14} />
        </IconButton>
        <IconButton
          label={op.on ? 'Switch off' : 'Switch on'}
          onClick={() => change(op.on ? 'Switch off' : 'Switch on', 'on', !op.on)}
        >
          {op.on ? <Eye size={14} /> : <EyeOff size={14} />}
        </IconButton>
        {isCutting(op) && (
          <IconButton label="Copy" onClick={() => copyOperation(op.id)}>
            <Copy size={14} />
          </IconButton>
        )}
        <IconButton
          label="Delete"
          onClick={() => {
            removeOperation(op.id);
            toast(`“${op.name}” is deleted.`, {
              action: { label: 'Undo', onClick: () => useDocument.getState().undo() },
            });
          }}
        >
          <Trash2 size={14} />
        </IconButton>
        <span className="flex-1" />
        {d && d.times.end > d.times.start && (
          <span className="num text-soft">{longSeconds(d.times.cutting + d.times.rapid + d.times.other)}</span>
        )}
      </div>
      {d && <FindingList findings={d.findings} />}
    </div>
  );
};

/** What the operator reads in the program before an operation. */
export const CommentSection = ({ op }: { op: Operation }) => (
  <Section title="Comment in the program">
    <TextField
      label="Comment in the program"
      className="w-full"
      value={op.note}
      onChange={(v) => changeOperation(op.id, 'Comment', 'note', v.slice(0, 400))}
      placeholder="for the operator"
    />
  </Section>
);

/** Spindle speeds that the cuts reach. */
export const SpeedReached = ({ id }: { id: string }) => {
  const load = useDerivedOperation(id)?.load;
  return (
    load && (
      <div className="num -mt-0.5 mb-0.5 pr-[4.2rem] text-right text-soft">
        {Math.round(load.speedMin) === Math.round(load.speedMax)
          ? Math.round(load.speedMax)
          : `${Math.round(load.speedMin)}–${Math.round(load.speedMax)}`}{' '}
        rev/min
      </div>
    )
  );
};

export const LoadSection = ({ op }: { op: CuttingOperation }) => {
  const tool = useDocument((s) => (op.tool ? s.job.tools[op.tool] : undefined));
  const load = useDerivedOperation(op.id)?.load;
  const slender = tool ? toolFacts(tool).slender : null;
  return (
    load && (
      <Section title="Load">
        <LoadRow
          label="Power"
          share={load.power / load.available}
          text={`${load.power.toFixed(1)} of ${load.available} kW`}
        />
        <LoadRow
          label="Torque"
          share={load.torque / Math.max(0.1, load.torqueAvailable)}
          text={`${load.torque.toFixed(1)} of ${load.torqueAvailable.toFixed(0)} Nm`}
        />
        <LoadValue label="Force" text={`${Math.round(load.force)} N`} />
        <LoadValue label="Chip thickness" text={`${load.chip.toFixed(3)} mm`} />
        {load.roughness !== null && <LoadValue label="Roughness Ra" text={`${load.roughness.toFixed(2)} µm`} />}
        {load.bend >= 0.001 && <LoadValue label="Work bends" text={`⌀ +${load.bend.toFixed(3)} mm`} />}
        {slender && (
          <LoadRow label="Overhang" share={slender.ratio / slender.most} text={`${slender.ratio.toFixed(1)} × ⌀`} />
        )}
        {load.couldTake !== null && (
          <p className="num text-soft">{load.couldTake.toFixed(1)} mm deep would use what spindle and edge can give.</p>
        )}
      </Section>
    )
  );
};
