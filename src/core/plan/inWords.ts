import { fieldsOf, type Operation, titleOf } from '../operations';
import { formatLength } from '../units';
import { diffDocuments } from './diff';
import type { Job } from './document';

/** One difference between two jobs, as a person would say it. */
export interface Difference {
  /** What of the job: an operation, a row, a tool, a holding. */
  readonly about: string;
  readonly words: string;
}

type Change = { readonly from: unknown; readonly to: unknown };

const unescaped = (key: string): string => key.replace(/~1/g, '/').replace(/~0/g, '~');
const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
/** `safeDistance` as “safe distance”. */
const spoken = (key: string): string =>
  key
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/[-_]/g, ' ')
    .toLowerCase();

const HEADER: Record<string, string> = {
  number: 'part number',
  name: 'name',
  revision: 'revision',
  batch: 'batch',
  programNumber: 'program number',
  author: 'author',
  note: 'note',
};

/** A value as it is said: numbers short, yes and no, lists and objects by their parts. */
const said = (v: unknown): string => {
  if (v === null || v === undefined || v === '') return 'none';
  if (typeof v === 'number') return String(Number(v.toFixed(4)));
  if (typeof v === 'boolean') return v ? 'yes' : 'no';
  if (typeof v === 'string') return v.length > 60 ? `“${v.slice(0, 57)}…”` : v;
  if (Array.isArray(v)) return v.length <= 4 ? v.map(said).join(', ') || 'none' : `${v.length} entries`;
  const parts = Object.entries(v as object).filter(([, k]) => typeof k !== 'object' || k === null);
  return parts.map(([k, value]) => `${spoken(k)} ${said(value)}`).join(', ') || 'changed';
};

const fromTo = ({ from, to }: Change, say: (v: unknown) => string = said): string =>
  from === undefined ? say(to) : to === undefined ? `${say(from)} taken away` : `${say(from)} → ${say(to)}`;

const operationName = (op: Operation | undefined, id: string): string => (op ? titleOf(op) : `operation ${id}`);

interface RowLike {
  readonly id: string;
  readonly [key: string]: unknown;
}

const rowSaid = (row: RowLike, units: Job['units']): string => {
  const length = (v: unknown): string => (typeof v === 'number' ? formatLength(v, units) : '?');
  return `⌀${length(row.diameter)} Z${length(row.z)}`;
};

const ROW_WORDS: Record<string, string> = { diameter: '⌀', z: 'Z', corner: 'corner', radius: 'radius', kind: 'kind' };

/** What of a list of rows is new, gone and different, row by row. */
const rowsInWords = (side: string, change: Change, units: Job['units']): Difference[] => {
  const before = (change.from ?? []) as readonly RowLike[];
  const after = (change.to ?? []) as readonly RowLike[];
  const result: Difference[] = [];
  const old = new Map(before.map((r, i) => [r.id, { row: r, place: i + 1 }]));
  for (const [i, row] of after.entries()) {
    const about = `${capital(side)} row ${i + 1}`;
    const was = old.get(row.id);
    old.delete(row.id);
    if (!was) {
      result.push({ about, words: `added: ${rowSaid(row, units)}` });
      continue;
    }
    for (const key of new Set([...Object.keys(was.row), ...Object.keys(row)])) {
      const [a, b] = [was.row[key], row[key]];
      if (JSON.stringify(a ?? null) === JSON.stringify(b ?? null)) continue;
      const say = (v: unknown): string => (typeof v === 'number' && key !== 'angle' ? formatLength(v, units) : said(v));
      result.push({ about, words: `${ROW_WORDS[key] ?? spoken(key)} ${say(a)} → ${say(b)}` });
    }
  }
  for (const { row, place } of old.values())
    result.push({ about: `${capital(side)} row ${place}`, words: `taken away: ${rowSaid(row, units)}` });
  if (result.length === 0 && before.length > 0)
    result.push({ about: `${capital(side)} rows`, words: 'in another order' });
  return result;
};

/** A field of an operation with its label, unit and choices. */
const fieldInWords = (op: Operation, path: string, change: Change, job: Job): string => {
  const field = fieldsOf(op).find((f) => path === f.key);
  if (path === 'cutting.feed') return `feed ${fromTo(change)} mm/rev`;
  if (path.startsWith('cutting.speed')) return `speed ${fromTo(change)}`;
  if (path === 'on') return change.to ? 'switched on' : 'switched off';
  if (path === 'tool') return `tool ${fromTo(change, (id) => job.tools[String(id)]?.name ?? said(id))}`;
  if (path === 'holding') return `moved to ${fromTo(change, (id) => job.holdings[String(id)]?.name ?? said(id))}`;
  if (path === 'span' || path.startsWith('span.')) return change.to === null ? 'span: the whole side' : 'another span';
  if (!field) return `${spoken(path.replace(/^(?:params|cutting)\./, '').replace(/\./g, ' '))} ${fromTo(change)}`;
  const { input } = field;
  const label = field.label.toLowerCase();
  switch (input.kind) {
    case 'length':
      return `${label} ${fromTo(change, (v) => (typeof v === 'number' ? formatLength(v, job.units) : (input.optional ?? said(v))))}`;
    case 'number':
      return `${label} ${fromTo(change)} ${input.unit}`.trim();
    case 'choice':
      return `${label}: ${fromTo(change, (v) => input.options.find((o) => o.value === v)?.label ?? said(v))}`;
    case 'second-tool':
      return `${label}: ${fromTo(change, (v) => (v === null ? 'none' : (job.tools[String(v)]?.name ?? said(v))))}`;
    case 'toggle':
    case 'text':
    case 'device-action':
    case 'spans':
    case 'elements':
      return `${label}: ${fromTo(change)}`;
    default:
      return input satisfies never;
  }
};

/**
 * What is different between two versions of a job, in words, the largest things first: part, stock and holdings, tools,
 * operations, order. `after` is the later one.
 */
export const differencesInWords = (before: Job, after: Job): Difference[] => {
  const diff = diffDocuments(before, after);
  const changes: [string, Change][] = [
    ...Object.entries(diff.updated).map(([p, [from, to]]): [string, Change] => [p, { from, to }]),
    ...Object.entries(diff.added).map(([p, to]): [string, Change] => [p, { from: undefined, to }]),
    ...Object.entries(diff.removed).map(([p, from]): [string, Change] => [p, { from, to: undefined }]),
  ];
  const groups: Record<string, Difference[]> = {};
  const put = (group: string, ...d: Difference[]): void => {
    const list = (groups[group] ??= []);
    for (const k of d) if (!list.some((o) => o.about === k.about && o.words === k.words)) list.push(k);
  };
  for (const [path, change] of changes) {
    const [top, ...rest] = path.split('/').slice(1).map(unescaped);
    switch (top) {
      case 'header':
        put('header', { about: 'Job', words: `${HEADER[rest[0]] ?? spoken(rest[0])} ${fromTo(change)}` });
        break;
      case 'part':
        if (rest[1] === 'rows')
          put('part', ...rowsInWords(`${rest[0] === 'back' ? 'back' : `${rest[0]} contour`}`, change, after.units));
        else if (rest[1] === 'start')
          put('part', {
            about: `${capital(rest[0])} contour`,
            words: `start ${spoken(rest[2] ?? '')} ${fromTo(change)}`,
          });
        else
          put('part', {
            about: 'Part',
            words: `${rest.map(spoken).join(' ')} ${change.from === undefined ? 'added' : change.to === undefined ? 'taken away' : fromTo(change)}`,
          });
        break;
      case 'material':
        put('part', {
          about: 'Material',
          words:
            before.material.name === after.material.name
              ? `${spoken(rest[0])} ${fromTo(change)}`
              : `${before.material.name} → ${after.material.name}`,
        });
        break;
      case 'machine':
        put('machine', {
          about: 'Machine',
          words:
            before.machine.id === after.machine.id
              ? `${rest.map(spoken).join(' ')} changed`
              : `${before.machine.name} → ${after.machine.name}`,
        });
        break;
      case 'holdings': {
        const holding = after.holdings[rest[0]] ?? before.holdings[rest[0]];
        const about = `Holding “${holding?.name ?? rest[0]}”`;
        if (rest.length === 1) put('holding', { about, words: change.from === undefined ? 'added' : 'taken away' });
        else put('holding', { about, words: `${rest.slice(1).map(spoken).join(' ')} ${fromTo(change)}` });
        break;
      }
      case 'tools': {
        const tool = after.tools[rest[0]] ?? before.tools[rest[0]];
        const about = `Tool “${tool?.name ?? rest[0]}”`;
        if (rest.length === 1) put('tool', { about, words: change.from === undefined ? 'put in' : 'taken out' });
        else put('tool', { about, words: `${rest.slice(1).map(spoken).join(' ')} ${fromTo(change)}` });
        break;
      }
      case 'mounts': {
        const about = rest.length > 1 ? `Station ${rest[1]} of ${rest[0]}` : `Stations of ${rest[0]}`;
        const name = (v: unknown): string => {
          const tool = (v as { tool?: string } | null)?.tool;
          return tool ? (after.tools[tool]?.name ?? before.tools[tool]?.name ?? tool) : said(v);
        };
        const mounted = (v: unknown): string =>
          v && typeof v === 'object' && !('tool' in v) ? Object.values(v).map(name).join(', ') || 'empty' : name(v);
        put('tool', {
          about,
          words:
            rest.length > 3
              ? `${spoken(rest[rest.length - 1])} ${fromTo(change, name)}`
              : change.to === undefined
                ? `emptied (${mounted(change.from)})`
                : fromTo(change, mounted),
        });
        break;
      }
      case 'operations': {
        const id = rest[0];
        const op = after.operations[id] ?? before.operations[id];
        const about = capital(operationName(op, id));
        if (rest.length === 1) put('operation', { about, words: change.from === undefined ? 'added' : 'taken away' });
        else
          put('operation', {
            about,
            words:
              rest[1] === 'name'
                ? `renamed: ${fromTo(change)}`
                : fieldInWords(op, rest.slice(1).join('.'), change, after),
          });
        break;
      }
      case 'order': {
        const list = (v: unknown): string[] => (Array.isArray(v) ? v.map(String) : []);
        const [a, b] = [list(change.from), list(change.to)];
        const kept = b.filter((id) => a.includes(id));
        const moved = kept.join() !== a.filter((id) => b.includes(id)).join();
        if (moved)
          put('order', {
            about: `Order in channel ${rest[0]}`,
            words: b.map((id) => operationName(after.operations[id] ?? before.operations[id], id)).join(', '),
          });
        break;
      }
      case 'repeats':
        put('operation', {
          about: 'Repeat',
          words:
            rest.length === 1
              ? change.from === undefined
                ? 'added'
                : 'taken away'
              : `${spoken(rest[rest.length - 1])} ${fromTo(change)}`,
        });
        break;
      case 'holdingOrder':
        put('holding', { about: 'Holdings', words: 'in another order' });
        break;
      default:
        put('header', { about: 'Job', words: `${spoken(top)} ${fromTo(change)}` });
    }
  }
  return ['header', 'part', 'machine', 'holding', 'tool', 'operation', 'order'].flatMap((g) => groups[g] ?? []);
};
