import { point, regionBounds } from '../geometry';
import { jawFront } from '../holding';
import type { CuttingOperation, Finding } from '../operations';
import { KINDS } from '../operations';
import { note } from '../operations/turning';
import type { Part } from '../part';
import type { Job } from './document';

/** Numbers of an operation that no path could be made from. */
export const validateOperation = (op: CuttingOperation): Finding[] => {
  const result: Finding[] = [];
  const need = (ok: boolean, field: string, value: number, must: string): void => {
    if (!ok) result.push(note('blocking', 'bad-number', op.id, { field, value, must }));
  };
  need(
    Number.isFinite(op.cutting.feed) && op.cutting.feed > 0 && op.cutting.feed <= 5,
    'Feed',
    op.cutting.feed,
    'above 0 and at most 5 mm/rev',
  );
  need(
    Number.isFinite(op.cutting.speed) &&
      op.cutting.speed > 0 &&
      op.cutting.speed <= (op.cutting.speedMode === 'surface' ? 3000 : 100_000),
    'Speed',
    op.cutting.speed,
    'above 0 and within reason',
  );
  switch (op.kind) {
    case 'face':
      need(op.params.depth >= 0.02, 'Depth per pass', op.params.depth, 'at least 0.02 mm');
      need(op.params.finishDepth >= 0, 'Last pass', op.params.finishDepth, '0 or more');
      need(op.params.finishFeed > 0, 'Feed of last pass', op.params.finishFeed, 'above 0');
      break;
    case 'outer-rough':
    case 'inner-rough':
      need(op.params.depth >= 0.02, 'Depth per pass', op.params.depth, 'at least 0.02 mm');
      need(op.params.allowanceX >= 0 && op.params.allowanceX <= 20, 'Allowance X', op.params.allowanceX, '0 to 20 mm');
      need(op.params.allowanceZ >= 0 && op.params.allowanceZ <= 10, 'Allowance Z', op.params.allowanceZ, '0 to 10 mm');
      break;
    case 'outer-finish':
    case 'inner-finish':
      break;
    case 'drill':
      need(op.params.depth === null || op.params.depth > 0, 'Depth', op.params.depth ?? 0, 'above 0');
      need(op.params.peck === 0 || op.params.peck >= 0.05, 'Peck', op.params.peck, '0, or at least 0.05 mm');
      break;
    case 'cutoff':
      need(op.params.slowBy >= 0 && op.params.slowBy < 100, 'Reduce feed by', op.params.slowBy, '0 to below 100 %');
      need(op.params.pastCentre >= 0 && op.params.pastCentre <= 5, 'Past centre', op.params.pastCentre, '0 to 5 mm');
      break;
    default:
      op satisfies never;
  }
  return result;
};

/** Stock and holding against the part. */
export const validateHolding = (job: Job, part: Part): Finding[] => {
  if (part.region.length === 0) return [note('blocking', 'part-missing', null)];
  const result: Finding[] = [];
  const b = regionBounds(part.region);
  if (job.stock.diameter < b.maxY * 2 - 1e-6)
    result.push(
      note('blocking', 'stock-too-small', null, { stock: job.stock.diameter, part: b.maxY * 2 }, point(b.minX, b.maxY)),
    );
  const front = jawFront(job.stock, job.holding);
  if (b.minX < front - 1e-6)
    result.push(
      note(
        'blocking',
        'stick-out-short',
        null,
        { missing: front - b.minX, needed: job.holding.stickOut + front - b.minX },
        point(front, job.stock.diameter / 2),
      ),
    );
  const offsets = new Map<number, number[]>();
  for (const stations of Object.values(job.stations))
    for (const [station, id] of Object.entries(stations)) {
      const offset = job.tools[id]?.offset ?? Number(station);
      offsets.set(offset, [...(offsets.get(offset) ?? []), Number(station)]);
    }
  for (const [offset, stations] of offsets)
    if (stations.length > 1)
      result.push(note('attention', 'duplicate-station', null, { offset, stations: stations.join(' and ') }));
  return result;
};

/** Order that cannot work, seen from the list alone. */
export const validateOrder = (job: Job): Finding[] => {
  const result: Finding[] = [];
  for (const ids of Object.values(job.order)) {
    const active = ids.map((id) => job.operations[id]).filter((op) => op?.on);
    const cut = active.findIndex((op) => op.kind === 'cutoff');
    if (cut >= 0 && cut < active.length - 1) {
      const after = active.slice(cut + 1).find((op) => op.kind !== 'wait');
      if (after)
        result.push(
          note('blocking', 'cutoff-not-last', active[cut].id, { after: after.name || KINDS[after.kind].label }),
        );
    }
  }
  return result;
};
