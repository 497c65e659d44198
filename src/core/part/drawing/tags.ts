import type { DxfEntity } from './entities';

/** One group of a DXF text: code and value. */
interface Tag {
  readonly code: number;
  readonly value: string;
}

export interface DxfText {
  /** $INSUNITS of the head; 0 where it says nothing. */
  readonly units: number;
  readonly entities: readonly DxfEntity[];
  readonly blocks: Readonly<Record<string, DxfBlock>>;
  /** Why the text broke off, if it did; what came before is there. */
  readonly torn: string | null;
}

export interface DxfBlock {
  readonly entities: readonly DxfEntity[];
  readonly position: { readonly x: number; readonly y: number };
}

/** More groups than this are no drawing of a turned part. */
const MOST_TAGS = 6_000_000;

type Fields = { -readonly [K in keyof DxfEntity]: DxfEntity[K] };
type Vertex = { x: number; y: number; bulge?: number };

/** Reads the groups of a text one after another; every step consumes at least one, so that it always ends. */
class Tags {
  private readonly lines: string[];
  private at = 0;
  torn: string | null = null;

  constructor(text: string) {
    this.lines = text.split(/\r\n|\r|\n/);
    if (this.lines.length > MOST_TAGS * 2) {
      this.torn = `it has more than ${MOST_TAGS} groups`;
      this.lines = [];
    }
  }

  /** The next group without taking it; null at the end or where the text breaks. */
  peek(): Tag | null {
    if (this.at + 1 >= this.lines.length) return null;
    const text = this.lines[this.at].trim();
    const code = Number(text);
    if (text === '' || !Number.isInteger(code) || code < -5 || code > 1071) {
      if (!this.lines.slice(this.at).every((l) => l.trim() === ''))
        this.torn ??= `line ${this.at + 1} should be a group code and reads “${text.slice(0, 20)}”`;
      return null;
    }
    return { code, value: this.lines[this.at + 1] };
  }

  next(): Tag | null {
    const tag = this.peek();
    if (tag) this.at += 2;
    return tag;
  }

  /** All groups up to the next code 0. */
  body(): Tag[] {
    const result: Tag[] = [];
    for (let t = this.peek(); t && t.code !== 0; t = this.peek()) {
      result.push(t);
      this.at += 2;
    }
    return result;
  }
}

/** A number, or NaN, which the entity's own reading tells. */
const num = (t: Tag): number => (t.value.trim() === '' ? Number.NaN : Number(t.value));

const common = (type: string, body: readonly Tag[]): Fields => {
  const e: Fields = { type };
  for (const t of body) {
    if (t.code === 8) e.layer = t.value.trim();
    else if (t.code === 6) e.lineType = t.value.trim();
    else if (t.code === 230) e.extrusionDirectionZ = num(t);
  }
  return e;
};

const value = (body: readonly Tag[], code: number): number | undefined => {
  const t = body.find((k) => k.code === code);
  return t ? num(t) : undefined;
};

const place = (body: readonly Tag[], code: number): { x: number; y: number } | undefined => {
  const x = value(body, code);
  const y = value(body, code + 10);
  return x === undefined || y === undefined ? undefined : { x, y };
};

/** Places that stand as runs of x and y with other groups among them: a run begins with each x. */
const places = (body: readonly Tag[], code: number): Vertex[] => {
  const result: Vertex[] = [];
  for (const t of body) {
    if (t.code === code) result.push({ x: num(t), y: Number.NaN });
    const last = result[result.length - 1];
    if (!last) continue;
    if (t.code === code + 10) last.y = num(t);
    if (t.code === 42) last.bulge = num(t);
  }
  return result;
};

const RADIANS = Math.PI / 180;

/** The fields of one entity that the drawing is read from. */
const entityOf = (type: string, body: readonly Tag[]): Fields => {
  const e = common(type, body);
  switch (type) {
    case 'LINE':
      e.vertices = [place(body, 10), place(body, 11)].flatMap((p) => p ?? []);
      break;
    case 'LWPOLYLINE':
      e.vertices = places(body, 10);
      e.shape = ((value(body, 70) ?? 0) & 1) !== 0;
      break;
    case 'ARC':
    case 'CIRCLE': {
      e.center = place(body, 10);
      e.radius = value(body, 40);
      const start = value(body, 50);
      const end = value(body, 51);
      if (start !== undefined) e.startAngle = start * RADIANS;
      if (end !== undefined) e.endAngle = end * RADIANS;
      break;
    }
    case 'ELLIPSE':
      e.center = place(body, 10);
      e.majorAxisEndPoint = place(body, 11);
      e.axisRatio = value(body, 40);
      e.startAngle = value(body, 41);
      e.endAngle = value(body, 42);
      break;
    case 'SPLINE':
      e.controlPoints = places(body, 10);
      e.fitPoints = places(body, 11);
      e.knotValues = body.filter((t) => t.code === 40).map(num);
      e.weights = body.filter((t) => t.code === 41).map(num);
      e.degreeOfSplineCurve = value(body, 71);
      e.closed = ((value(body, 70) ?? 0) & 1) !== 0;
      break;
    case 'INSERT':
      e.name = body.find((t) => t.code === 2)?.value.trim();
      e.position = place(body, 10);
      e.xScale = value(body, 41);
      e.yScale = value(body, 42);
      e.rotation = value(body, 50);
      e.columnCount = value(body, 70);
      e.rowCount = value(body, 71);
      e.columnSpacing = value(body, 44);
      e.rowSpacing = value(body, 45);
      break;
    default:
      break;
  }
  return e;
};

/** Entities up to the end of their section or block; an old polyline takes the vertices that follow it. */
const readEntities = (tags: Tags, end: string): DxfEntity[] => {
  const result: DxfEntity[] = [];
  for (;;) {
    const t = tags.peek();
    if (!t) {
      tags.torn ??= `${end === 'ENDBLK' ? 'a block' : 'the section of entities'} has no end`;
      return result;
    }
    if (t.code !== 0) {
      tags.next();
      continue;
    }
    const type = t.value.trim();
    if (type === end || type === 'ENDSEC' || type === 'EOF') return result;
    tags.next();
    const body = tags.body();
    const e = entityOf(type, body);
    if (type === 'POLYLINE') {
      e.shape = ((value(body, 70) ?? 0) & 1) !== 0;
      e.vertices = readVertices(tags);
    }
    if (type !== 'VERTEX' && type !== 'SEQEND') result.push(e);
  }
};

const readVertices = (tags: Tags): Vertex[] => {
  const vertices: Vertex[] = [];
  for (let t = tags.peek(); t?.code === 0 && t.value.trim() === 'VERTEX'; t = tags.peek()) {
    tags.next();
    const body = tags.body();
    const p = place(body, 10);
    // vertices that frame a fitted curve are not on it
    if (p && ((value(body, 70) ?? 0) & 16) === 0) vertices.push({ ...p, bulge: value(body, 42) });
  }
  const end = tags.peek();
  if (end?.code === 0 && end.value.trim() === 'SEQEND') {
    tags.next();
    tags.body();
  } else tags.torn ??= 'a polyline has no end (SEQEND)';
  return vertices;
};

const readBlocks = (tags: Tags): Record<string, DxfBlock> => {
  const blocks: Record<string, DxfBlock> = Object.create(null);
  for (;;) {
    const t = tags.next();
    if (!t) {
      tags.torn ??= 'the section of blocks has no end';
      return blocks;
    }
    if (t.code !== 0) continue;
    const type = t.value.trim();
    if (type === 'ENDSEC' || type === 'EOF') return blocks;
    if (type !== 'BLOCK') continue;
    const body = tags.body();
    const name = body.find((k) => k.code === 2)?.value.trim() ?? '';
    blocks[name] = { position: place(body, 10) ?? { x: 0, y: 0 }, entities: readEntities(tags, 'ENDBLK') };
  }
};

/** Reads the groups of a DXF text: units, blocks, entities. Never throws; a text that breaks off says where. */
export const readDxf = (text: string): DxfText => {
  const tags = new Tags(text);
  let units = 0;
  let blocks: Record<string, DxfBlock> = Object.create(null);
  const entities: DxfEntity[] = [];
  let sections = 0;
  for (;;) {
    const t = tags.next();
    if (!t || (t.code === 0 && t.value.trim() === 'EOF')) break;
    if (t.code !== 0 || t.value.trim() !== 'SECTION') continue;
    sections++;
    const name = tags.next();
    switch (name?.code === 2 ? name.value.trim() : '') {
      case 'HEADER': {
        const body = tags.body();
        const i = body.findIndex((k) => k.code === 9 && k.value.trim() === '$INSUNITS');
        if (i >= 0 && body[i + 1]) units = num(body[i + 1]);
        break;
      }
      case 'BLOCKS':
        blocks = readBlocks(tags);
        break;
      case 'ENTITIES':
        entities.push(...readEntities(tags, 'ENDSEC'));
        break;
      default:
        break;
    }
  }
  if (sections === 0) tags.torn ??= 'it has no section';
  return { units, entities, blocks, torn: tags.torn };
};
