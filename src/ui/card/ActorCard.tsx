'use client';
import { useMemo } from 'react';
import { type ActorOperation, fieldsOf } from '@/core/operations';
import { dimensionNames } from '@/core/plan';
import { useDocument } from '../job/document';
import { changeOperation } from '../job/edits';
import { Row, Section } from '../kit/controls';
import { readPath } from '../kit/paths';
import { useUnit } from '../kit/units';
import { CardHead, CommentSection } from './CardHead';
import { FieldRow, isShown } from './FieldRow';

/** An operation that moves no tool: a mark, a handover, a spindle that goes back. */
export const ActorCard = ({ op }: { op: ActorOperation }) => {
  const job = useDocument((s) => s.job);
  const unit = useUnit();
  const names = useMemo(() => dimensionNames(job.part.dimensions, job.units), [job.part.dimensions, job.units]);
  const change = (label: string, path: string, value: unknown): void => changeOperation(op.id, label, path, value);
  const fields = fieldsOf(op).filter((f) => isShown(op, f));
  const others = op.kind === 'wait' ? op.params.channels.filter((c) => c !== op.channel) : [];
  const channelName = (id: string): string => job.machine.channels.find((c) => c.id === id)?.name ?? id;
  return (
    <div data-testid="actor-card">
      <CardHead op={op} change={change} />
      <Section title={op.kind === 'wait' ? 'Together' : 'How'}>
        {op.kind === 'wait' && <p className="mb-1">Waits here for {others.map(channelName).join(' and ')}.</p>}
        {(op.kind === 'handover' || op.kind === 'withdraw') && (
          <Row label={op.kind === 'handover' ? 'Taken over by' : 'Goes back'}>
            <span>{job.holdings[op.params.to]?.name ?? `“${op.params.to}”, which is not there`}</span>
          </Row>
        )}
        {fields.map((f) => (
          <FieldRow
            key={f.key}
            id={op.id}
            field={f}
            unit={unit}
            value={readPath(op, f.key)}
            text={null}
            names={names}
          />
        ))}
      </Section>
      <CommentSection op={op} />
    </div>
  );
};
