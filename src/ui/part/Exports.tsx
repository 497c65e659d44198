'use client';
import { Download } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { buildPart, layersOfPart, revolveMesh, writeDxf, writeStl, writeSvg } from '@/core/part';
import { useDocument } from '../job/document';

import { Button, Section } from '../kit/controls';
import { solids } from './worker';

const download = (name: string, content: BlobPart, type: string): void => {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const a = document.createElement('a');
  a.href = url;
  a.download = name;
  a.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
};

/** The contour as drawing, the part as solid or mesh. */
export const Exports = () => {
  const [busy, setBusy] = useState(false);
  const write = async (format: 'dxf' | 'svg' | 'step' | 'stl'): Promise<void> => {
    const { job } = useDocument.getState();
    const part = buildPart(job.part, job.units);
    if (part.boundary.length === 0) {
      toast.error('The contour does not close, so there is nothing to write.', {
        description: 'Mend the rows that are marked, then export.',
      });
      return;
    }
    const name = `${job.header.number}-${job.header.revision}`.replace(/[^\w.-]+/g, '_').slice(0, 60) || 'part';
    const layers = layersOfPart(part);
    if (format === 'dxf') download(`${name}.dxf`, writeDxf(layers), 'image/vnd.dxf');
    else if (format === 'svg') download(`${name}.svg`, writeSvg(layers), 'image/svg+xml');
    else if (format === 'stl')
      download(`${name}.stl`, writeStl(revolveMesh(part.boundary, 0.01)).slice().buffer, 'model/stl');
    else {
      setBusy(true);
      const text = await solids((api) =>
        api.step(
          job.part,
          job.units,
          `${job.header.number} ${job.header.revision} ${job.header.name}`,
          new Date().toISOString().slice(0, 19),
        ),
      ).catch(() => null);
      setBusy(false);
      if (text) download(`${name}.step`, text, 'model/step');
      else
        toast.error('The solid could not be written.', {
          description: 'Check the contour for pieces that touch, then try again.',
        });
    }
  };
  return (
    <Section title="Export">
      <div className="flex flex-wrap gap-1.5">
        {(['dxf', 'svg', 'step', 'stl'] as const).map((f) => (
          <Button key={f} disabled={busy} onClick={() => void write(f)}>
            <Download size={13} /> {f.toUpperCase()}
          </Button>
        ))}
        {busy && <span className="self-center text-soft">making the solid …</span>}
      </div>
    </Section>
  );
};
