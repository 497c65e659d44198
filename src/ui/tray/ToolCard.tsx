'use client';
import { toast } from 'sonner';
import { worksWith } from '@/core/plan';
import { threadByName } from '@/core/threads';
import {
  besideIn,
  countsAs,
  decodeInsert,
  type Mounted,
  mountedAt,
  placeName,
  type Tool,
  type ToolField,
  ToolSchema,
  toolFacts,
  toolKind,
  toolSection,
} from '@/core/tooling';
import { useDocument } from '../job/document';
import { useSelection } from '../job/selection';
import { Button, Choice, NumberField, Row, Section, TextField, Toggle } from '../kit/controls';
import { readPath, writePath } from '../kit/paths';
import { ProfileField } from './ProfileField';
import { ToolPicture } from './ToolPicture';

/** What a designation says, or which letter cannot be read. */
const InsertWords = ({ designation }: { designation: string }) => {
  const read = decodeInsert(designation);
  return read.ok ? (
    <p className="num mb-1 text-soft">
      {read.insert.cornerAngle > 0 ? `${read.insert.cornerAngle}° corner, ` : 'round, '}edge{' '}
      {read.insert.edgeLength.toFixed(2)}, nose {read.insert.noseRadius}, relief {read.insert.clearanceAngle}°
    </p>
  ) : (
    <p className="mb-1 text-madder" role="alert">
      ✕ “{designation}” is no insert designation (place {read.at + 1}: “{read.found}”). Write it like CNMG120408.
    </p>
  );
};

/** False when the tool cannot be so; the reason is told. */
type Change = (label: string, path: string, value: unknown) => boolean;

/** One field as its kind of tool describes it. */
const Field = ({ field, tool, change }: { field: ToolField; tool: Tool; change: Change }) => {
  const value = readPath(tool, field.key);
  const name = field.label.toLowerCase();
  if (field.input === 'designation' || field.input === 'thread') {
    const text = String(value);
    const thread = field.input === 'thread';
    return (
      <>
        <Row label={field.label} help={field.help}>
          <TextField
            label={field.label}
            className="w-32 !font-number"
            value={text}
            onChange={(v) => change(name, field.key, thread ? v.slice(0, 40) : v.toUpperCase().slice(0, 20))}
          />
        </Row>
        {!thread && <InsertWords designation={text} />}
        {thread && !threadByName(text) && (
          <p className="mb-1 text-madder" role="alert">
            ✕ “{text}” is no thread. Write it like M16x1.5, 1/2-13 or G1/2.
          </p>
        )}
      </>
    );
  }
  if (field.input === 'profile')
    return (
      <ProfileField
        label={field.label}
        help={field.help}
        text={String(value)}
        onChange={(v) => change(name, field.key, v)}
      />
    );
  if (typeof field.input === 'object')
    return (
      <Row label={field.label} help={field.help}>
        <Choice
          label={field.label}
          className="w-24"
          value={String(value)}
          onChange={(v) => change(name, field.key, v)}
          options={field.input.options.map((o) => ({ value: o, label: o }))}
        />
      </Row>
    );
  const angle = field.input === 'angle';
  return (
    <Row label={field.label} help={field.help} unit={angle ? '°' : tool.unit === 'inch' ? 'in' : 'mm'}>
      <NumberField
        label={field.label}
        unit={angle ? undefined : tool.unit}
        value={Number(value)}
        onChange={(v) => v !== null && change(name, field.key, v)}
      />
    </Row>
  );
};

const STICK_OUT: ToolField = {
  key: 'stickOut',
  label: 'Stick-out',
  help: 'From the tip to the carrier.',
  input: 'length',
};

/** How the tool stands in its station. */
const MountFields = ({ at, tool }: { at: Mounted; tool: Tool }) => {
  const edit = useDocument((s) => s.edit);
  const job = useDocument((s) => s.job);
  const beside = besideIn(job.mounts, at);
  const change = (label: string, patch: Partial<Mounted['mount']>): void =>
    edit(`${label} of ${tool.name}`, (j) => {
      Object.assign(j.mounts[at.carrier][at.station][at.position], patch);
      return j;
    });
  const ways = toolKind(tool).waysUp;
  const made = toolSection(tool, at.mount.wayUp);
  const points = [
    { value: 'tip', label: made.ok && made.section.corners.length > 1 ? 'first corner' : 'tip' },
    ...(made.ok && made.section.corners.length > 1 ? [{ value: 'other', label: 'other corner' }] : []),
    ...(made.ok && made.section.noseRadius > 0 ? [{ value: 'centre', label: 'nose centre' }] : []),
  ];
  return (
    <>
      {(ways.length > 1 || !ways.includes(at.mount.wayUp)) && (
        <Row label="Way up" help="Turned over about its shank, the tool cuts with the spindle turning the other way.">
          <Choice
            label="Way up"
            className="w-24"
            value={at.mount.wayUp}
            onChange={(v) => change('way up', { wayUp: v as Mounted['mount']['wayUp'] })}
            options={[
              { value: 'usual', label: 'usual' },
              { value: 'turned', label: 'turned over' },
            ]}
          />
        </Row>
      )}
      {countsAs(tool.kind, true) !== null && (
        <Row
          label="Beyond centre"
          help="Works beyond the centre line, where X is negative, with the spindle reversed. A boring bar turns an outside there; an outside tool bores where its shank has room."
        >
          <Toggle
            label="Beyond centre"
            on={at.mount.beyond}
            onChange={(v) => change(v ? 'work beyond centre' : 'work on this side', { beyond: v })}
          />
        </Row>
      )}
      {points.length > 1 && (
        <Row label="Programmed" help="The point that the program names and the presetter measures.">
          <Choice
            label="Programmed point"
            className="w-28"
            value={at.mount.point}
            onChange={(v) => change('programmed point', { point: v as Mounted['mount']['point'] })}
            options={points}
          />
        </Row>
      )}
      <Row label="Offset" help="Number of the tool offset; the station’s own when empty.">
        <NumberField
          label="Offset"
          value={at.mount.offset}
          optional="as station"
          width="w-24"
          onChange={(v) =>
            (v === null || (v >= 1 && v <= 999)) && change('offset', { offset: v === null ? null : Math.round(v) })
          }
        />
      </Row>
      {toolFacts(tool).stands === 'along' && job.machine.spindles.length > 1 && (
        <Row label="Points toward" help="The spindle that the tool’s point looks at.">
          <Choice
            label="Points toward"
            className="w-28"
            value={at.mount.facing}
            onChange={(v) => change('direction', { facing: v as Mounted['mount']['facing'] })}
            options={[
              { value: 'main', label: 'main spindle' },
              { value: 'sub', label: 'sub-spindle' },
            ]}
          />
        </Row>
      )}
      {(beside.length > 0 || at.mount.at.x !== 0 || at.mount.at.z !== 0) && (
        <>
          {(['x', 'z'] as const).map((axis) => (
            <Row
              key={axis}
              label={axis === 'x' ? 'In the block, across' : 'In the block, along'}
              help={`Where the block holds the tool, from the station’s own place: ${axis === 'x' ? 'away from the axis' : 'along Z, away from the main chuck'}.`}
              unit="mm"
            >
              <NumberField
                label={axis === 'x' ? 'In the block, across' : 'In the block, along'}
                unit="mm"
                value={at.mount.at[axis]}
                onChange={(v) =>
                  v !== null &&
                  Math.abs(v) <= 10_000 &&
                  change('place in the block', { at: { ...at.mount.at, [axis]: v } })
                }
              />
            </Row>
          ))}
          {beside.length > 0 && (
            <p className="text-soft">
              In one block with {beside.map((m) => job.tools[m.mount.tool]?.name ?? m.mount.tool).join(', ')}: they come
              along, and what they would meet is told.
            </p>
          )}
        </>
      )}
    </>
  );
};

export const ToolCard = () => {
  const job = useDocument((s) => s.job);
  const id = useSelection((s) => s.tool);
  const edit = useDocument((s) => s.edit);
  const tool = id ? job.tools[id] : null;
  if (!tool)
    return (
      <p className="p-3 text-soft">
        Choose a station on the left to see its tool, or an empty one to take a tool from the library.
      </p>
    );
  const at = mountedAt(job.mounts, tool.id);
  const change: Change = (label, path, value) => {
    const next = structuredClone(tool);
    writePath(next, path, value);
    const read = ToolSchema.safeParse(next);
    if (!read.success) {
      toast(`${label}: ${read.error.issues[0].message}.`);
      return false;
    }
    edit(`${label} of ${tool.name}`, (j) => {
      j.tools[tool.id] = read.data;
      return j;
    });
    return true;
  };
  const users = Object.values(job.operations).filter((o) => worksWith(o, tool.id));
  return (
    <div data-testid="tool-card">
      <div className="border-b border-hair p-3">
        <TextField
          label="Name of the tool"
          className="w-full !border-transparent !bg-transparent !px-0 text-[15px] font-semibold hover:!border-hair"
          value={tool.name}
          onChange={(v) => change('name', 'name', v.slice(0, 120))}
        />
        <div className="mt-1 rounded border border-hair bg-white p-1">
          <ToolPicture tool={tool} wayUp={at?.mount.wayUp ?? 'usual'} height={170} />
        </div>
      </div>
      <Section title="Cutter and holder">
        {[...toolKind(tool).fields, STICK_OUT].map((f) => (
          <Field key={f.key} field={f} tool={tool} change={change} />
        ))}
        <Row label="Shown in" help="Unit of this tool’s lengths.">
          <Choice
            label="Shown in"
            className="w-24"
            value={tool.unit}
            onChange={(v) => change('unit', 'unit', v)}
            options={[
              { value: 'mm', label: 'mm' },
              { value: 'inch', label: 'inch' },
            ]}
          />
        </Row>
      </Section>
      <Section title={at ? `In ${placeName(job.mounts, at)}` : 'In no station'}>
        {at && <MountFields at={at} tool={tool} />}
        {users.length > 0 ? (
          <p className="text-soft">Used by {users.map((o) => o.name).join(', ')}.</p>
        ) : (
          <Button
            tone="quiet"
            className="-ml-2 !text-woad"
            onClick={() => useSelection.getState().set({ phase: 'plan' })}
          >
            not used yet: plan with it
          </Button>
        )}
      </Section>
    </div>
  );
};
