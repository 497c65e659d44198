'use client';
import { Plus, Trash2 } from 'lucide-react';
import { toast } from 'sonner';
import { solveDimensions } from '@/core/part';
import { formatLength, isDimensionName } from '@/core/units';
import { useDocument } from '../job/document';
import { Button, IconButton, Section, TextField } from '../kit/controls';

const NONE: readonly { name: string; formula: string }[] = [];

/** Named dimensions with formulas; any field of the rows may use the names. */
export const Dimensions = () => {
  const list = useDocument((s) => s.job.part.dimensions) ?? NONE;
  const unit = useDocument((s) => s.job.units);
  const edit = useDocument((s) => s.edit);
  const { names } = solveDimensions([...list], unit);
  const change = (
    label: string,
    f: (d: { name: string; formula: string }[]) => { name: string; formula: string }[],
  ): void => edit(label, (j) => ({ ...j, part: { ...j.part, dimensions: f([...(j.part.dimensions ?? [])]) } }));
  return (
    <Section title="Named dimensions">
      {list.map((d, i) => (
        <div key={`${i + 1}`} className="flex items-center gap-1.5 py-px">
          <TextField
            label={`Name of dimension ${i + 1}`}
            className="w-24"
            value={d.name}
            onChange={(v) => {
              if (!isDimensionName(v) || list.some((k, j) => j !== i && k.name === v)) {
                toast.error(`“${v.slice(0, 30)}” cannot name a dimension.`, {
                  description: 'Use letters, digits and _, begin with a letter, and give each its own name.',
                });
                return;
              }
              change('name dimension', (k) => k.map((e, j) => (j === i ? { ...e, name: v.slice(0, 40) } : e)));
            }}
          />
          <span>=</span>
          <TextField
            label={`Formula of ${d.name}`}
            className="num min-w-0 flex-1"
            value={d.formula}
            onChange={(v) =>
              change('formula', (k) => k.map((e, j) => (j === i ? { ...e, formula: v.slice(0, 200) } : e)))
            }
          />
          <span className="num w-16 text-right text-soft">
            {names.has(d.name) ? formatLength(Math.round((names.get(d.name) ?? 0) * 1e4) / 1e4, unit) : '✕'}
          </span>
          <IconButton
            className="!w-5"
            label={`Delete dimension ${d.name}`}
            onClick={() => change('delete dimension', (k) => k.filter((_, j) => j !== i))}
          >
            <Trash2 size={13} />
          </IconButton>
        </div>
      ))}
      <div className="flex items-center gap-2">
        <Button
          onClick={() => {
            let n = list.length + 1;
            while (list.some((d) => d.name === `d${n}`)) n++;
            change('add dimension', (k) => [...k, { name: `d${n}`, formula: '10' }]);
          }}
        >
          <Plus size={14} /> Name a dimension
        </Button>
        {list.length === 0 && <span className="text-soft">such as hub = 2*bore+2, then “hub” in any row</span>}
      </div>
    </Section>
  );
};
