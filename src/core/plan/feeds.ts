import { BLADE_FEED, NOSE_FEED, startingData, surfaceSpeedAt } from '../cutting';
import { type Finding, note } from '../findings';
import { type CuttingOperation, kindOf } from '../operations';
import { threadByName } from '../threads';
import { type Tool, toolFacts } from '../tooling';
import type { Job } from './document';
import type { OperationLoad } from './load';

/** A starting value may be exceeded so many times before it is worth a word. */
const TIMES_SPEED = 2;
const TIMES_DRILL_FEED = 3;

const down = (v: number, grid: number): number => Math.floor(v / grid + 1e-9) * grid;
const tidy = (v: number): number => Math.round(v * 1000) / 1000;

/** Feed at the most by what cuts: a blade's width or a nose's radius; null for tools that have neither. */
export const edgeFeed = (
  tool: Tool,
): { readonly most: number; readonly blade?: number; readonly nose?: number } | null => {
  const { insert, blade, bladeWidth } = toolFacts(tool);
  const width = blade?.width ?? bladeWidth;
  if (width > 0) return { most: width * BLADE_FEED, blade: width };
  return insert ? { most: insert.noseRadius * NOSE_FEED, nose: insert.noseRadius } : null;
};

/** A feed that a tool cannot take: over the nose's radius, over a blade's width, over a drill's diameter. */
const feedFindings = (op: CuttingOperation, tool: Tool, material: Job['material']): Finding[] => {
  const { onCentre } = toolFacts(tool);
  const edge = edgeFeed(tool);
  const { feed } = op.cutting;
  const lower = (most: number) => {
    const value = tidy(down(most, most > 0.1 ? 0.01 : 0.001));
    return { remedy: { label: `Feed ${value} mm/rev`, set: { [`/operations/${op.id}/cutting/feed`]: value } } };
  };
  if (edge?.blade !== undefined) {
    const { most } = edge;
    const numbers = { feed, most, width: edge.blade };
    return feed > most + 1e-9 ? [note('attention', 'feed-over-blade', op.id, numbers, null, lower(most))] : [];
  }
  const { purpose } = kindOf(op);
  if (onCentre && (purpose === 'drill' || purpose === 'ream')) {
    const { diameter } = onCentre;
    const most = TIMES_DRILL_FEED * startingData(material, purpose).feed * diameter;
    const numbers = { feed, most, diameter, material: material.name };
    return feed > most + 1e-9 ? [note('attention', 'feed-over-drill', op.id, numbers, null, lower(most))] : [];
  }
  if (edge?.nose === undefined || kindOf(op).leads) return [];
  const { most, nose } = edge;
  const own = 'own' in op.params ? Object.entries(op.params.own) : [];
  return [
    ...(feed > most + 1e-9
      ? [note('attention', 'feed-over-nose', op.id, { feed, nose, most, element: '' }, null, lower(most))]
      : []),
    ...own.flatMap(([element, k]) =>
      k.feed !== null && k.feed > most + 1e-9
        ? [note('attention', 'feed-over-nose', op.id, { feed: k.feed, nose, most, element: `“${element}”` })]
        : [],
    ),
  ];
};

/** A cutting speed far over what the material bears in this kind of cut. */
const speedFindings = (op: CuttingOperation, load: OperationLoad | null, material: Job['material']): Finding[] => {
  const { purpose } = kindOf(op);
  const usual = startingData(material, purpose).surfaceSpeed;
  const { speed } = op.cutting;
  const thread = 'thread' in op.params ? threadByName(op.params.thread) : null;
  const reached = load
    ? surfaceSpeedAt(load.speedMin, load.diameterMax)
    : thread && speed.mode === 'fixed'
      ? surfaceSpeedAt(speed.value, thread.major)
      : 0;
  if (reached <= TIMES_SPEED * usual + 1e-9) return [];
  const factor = usual / reached;
  const value = Math.max(1, Math.round(speed.mode === 'surface' ? usual : speed.value * factor));
  const label = `${value} ${speed.mode === 'surface' ? 'm/min' : 'rev/min'}`;
  return [
    note('attention', 'speed-over-material', op.id, { speed: reached, usual, material: material.name }, null, {
      remedy: { label, set: { [`/operations/${op.id}/cutting/speed/value`]: value } },
    }),
  ];
};

/** What practice says against feed and speed of an operation. */
export const feedAndSpeedFindings = (
  op: CuttingOperation,
  load: OperationLoad | null,
  tool: Tool,
  material: Job['material'],
): Finding[] => [...feedFindings(op, tool, material), ...speedFindings(op, load, material)];
