import { mapRegion, pathOfRegion, regionBounds, simplifyRegion } from '../core/geometry';
import { buildPart } from '../core/part';
import type { Job } from '../core/plan';

export interface SectionPicture {
  /** SVG path of the whole section, mirrored about the axis. */
  readonly path: string;
  readonly box: readonly [number, number, number, number];
}

/** The part's section as the list draws it. */
export const sectionOf = (job: Job): SectionPicture => {
  const { region } = buildPart(job.part, job.units);
  if (region.length === 0) return { path: '', box: [0, -1, 1, 2] };
  const both = [...region, ...mapRegion(region, (p) => ({ x: p.x, y: -p.y }), true)];
  const b = regionBounds(both);
  return {
    path: pathOfRegion(simplifyRegion(both, 0.02), { digits: 2 }),
    box: [b.minX, b.minY, b.maxX - b.minX, b.maxY - b.minY],
  };
};
