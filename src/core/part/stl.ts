import { type Curve, chordAngle, flattenChain, type Point, type Vec3 } from '../geometry';
import { type ImportProblem, importProblem } from './stepText';

/** Nine numbers a triangle: three corners. */
export interface Triangles {
  readonly corners: Float64Array;
  readonly problems: readonly ImportProblem[];
}

const MOST_TRIANGLES = 3_000_000;
/** Largest coordinate that is read: a turned part is not longer than this. */
const FAR = 1e5;

const isBinary = (bytes: Uint8Array): boolean => {
  if (bytes.length < 84) return false;
  const count = new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true);
  if (84 + 50 * count === bytes.length) return true;
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 400));
  return !(/^\s*solid/i.test(head) && /facet|endsolid/i.test(head));
};

const readBinary = (bytes: Uint8Array): Triangles => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const said = view.getUint32(80, true);
  const there = Math.floor((bytes.length - 84) / 50);
  const problems: ImportProblem[] = [];
  if (there < said)
    problems.push(
      importProblem(
        'torn',
        `The file says ${said} triangles but ends inside triangle ${there + 1}. Export or copy it again.`,
        { entity: there + 1 },
      ),
    );
  if (said > MOST_TRIANGLES)
    return {
      corners: new Float64Array(0),
      problems: [
        importProblem(
          'too-many',
          `The mesh has ${said} triangles; up to ${MOST_TRIANGLES} are read. Export it coarser.`,
        ),
      ],
    };
  const n = Math.min(said, there);
  const corners = new Float64Array(n * 9);
  for (let i = 0; i < n; i++)
    for (let k = 0; k < 9; k++) corners[i * 9 + k] = view.getFloat32(84 + i * 50 + 12 + k * 4, true);
  return { corners, problems };
};

const readAscii = (text: string): Triangles => {
  const problems: ImportProblem[] = [];
  const numbers: number[] = [];
  const vertex = /vertex\s+(\S+)\s+(\S+)\s+(\S+)/gi;
  for (let m = vertex.exec(text); m; m = vertex.exec(text)) {
    for (let k = 1; k <= 3; k++) {
      const v = Number(m[k]);
      if (!Number.isFinite(v)) {
        const line = text.slice(0, m.index).split('\n').length;
        return {
          corners: new Float64Array(0),
          problems: [
            importProblem(
              'not-finite',
              `Line ${line}: “${m[k].slice(0, 20)}” is not a number. Export the mesh again.`,
              { entity: Math.floor(numbers.length / 9) + 1 },
            ),
          ],
        };
      }
      numbers.push(v);
    }
    if (numbers.length > MOST_TRIANGLES * 9)
      return {
        corners: new Float64Array(0),
        problems: [importProblem('too-many', `The mesh has more than ${MOST_TRIANGLES} triangles. Export it coarser.`)],
      };
  }
  if (!/endsolid\s*[^\n]*\s*$/i.test(text.slice(-400)) || numbers.length % 9 !== 0)
    problems.push(
      importProblem(
        'torn',
        `The file ends inside triangle ${Math.floor(numbers.length / 9) + 1}. Export or copy it again.`,
        { entity: Math.floor(numbers.length / 9) + 1 },
      ),
    );
  return { corners: Float64Array.from(numbers.slice(0, numbers.length - (numbers.length % 9))), problems };
};

/** Triangles of an STL file, binary or text. */
export const readStl = (bytes: Uint8Array): Triangles => {
  if (bytes.length < 15)
    return {
      corners: new Float64Array(0),
      problems: [importProblem('torn', 'The file is empty or cut off. Export it again.')],
    };
  const read = isBinary(bytes) ? readBinary(bytes) : readAscii(new TextDecoder('latin1').decode(bytes));
  if (read.corners.length === 0 && read.problems.length === 0)
    return {
      corners: read.corners,
      problems: [importProblem('not-stl', 'The file holds no triangles. Export the part as STL (binary or text).')],
    };
  for (let i = 0; i < read.corners.length; i++)
    if (Math.abs(read.corners[i]) > FAR)
      return {
        corners: new Float64Array(0),
        problems: [
          importProblem(
            'too-far',
            `A corner of triangle ${Math.floor(i / 9) + 1} lies at ${read.corners[i].toExponential(1)}, further than ${FAR / 1000} m. Export the mesh again, in mm or inches.`,
            { entity: Math.floor(i / 9) + 1 },
          ),
        ],
      };
  for (let i = 0; i < read.corners.length; i++)
    if (!Number.isFinite(read.corners[i]))
      return {
        corners: new Float64Array(0),
        problems: [
          importProblem(
            'not-finite',
            `Triangle ${Math.floor(i / 9) + 1} has a coordinate that is not a number. Export the mesh again.`,
            { entity: Math.floor(i / 9) + 1 },
          ),
        ],
      };
  return read;
};

/** Edges that do not belong to exactly two triangles: a closed mesh has none. The first is told by triangle and place. */
export const openEdges = (corners: Float64Array): { count: number; triangle: number; at: Vec3 } => {
  let reach = 0;
  for (const c of corners) reach = Math.max(reach, Math.abs(c));
  const grid = 1 / Math.max(1e-6, reach * 1e-6);
  const ids = new Map<string, number>();
  const vertex = new Int32Array(corners.length / 3);
  for (let i = 0; i < vertex.length; i++) {
    const key = `${Math.round(corners[i * 3] * grid)},${Math.round(corners[i * 3 + 1] * grid)},${Math.round(corners[i * 3 + 2] * grid)}`;
    let id = ids.get(key);
    if (id === undefined) {
      id = ids.size;
      ids.set(key, id);
    }
    vertex[i] = id;
  }
  const edges = new Map<number, number>();
  const size = ids.size;
  for (let t = 0; t < vertex.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = vertex[t + k];
      const b = vertex[t + ((k + 1) % 3)];
      if (a === b) continue;
      // each direction cancels the other
      const key = a < b ? a * size + b : b * size + a;
      edges.set(key, (edges.get(key) ?? 0) + (a < b ? 1 : -1));
    }
  let count = 0;
  for (const v of edges.values()) if (v !== 0) count++;
  if (count > 0)
    for (let t = 0; t < vertex.length; t += 3)
      for (let k = 0; k < 3; k++) {
        const a = vertex[t + k];
        const b = vertex[t + ((k + 1) % 3)];
        if (a !== b && edges.get(a < b ? a * size + b : b * size + a) !== 0)
          return {
            count,
            triangle: t / 3 + 1,
            at: [corners[(t + k) * 3], corners[(t + k) * 3 + 1], corners[(t + k) * 3 + 2]],
          };
      }
  return { count, triangle: 0, at: [0, 0, 0] };
};

/** Triangles of a closed half-section turned about Z of the file; corners lie on the true surface, chords within `chord` mm. */
export const revolveMesh = (boundary: readonly Curve[], chord: number): Float64Array => {
  const ring: Point[] = flattenChain(boundary, chord);
  const greatest = Math.max(...ring.map((p) => p.y));
  const steps = Math.max(24, Math.ceil((2 * Math.PI) / chordAngle(greatest, chord)));
  const out: number[] = [];
  const at = (p: Point, i: number): [number, number, number] => {
    const a = (2 * Math.PI * (i % steps)) / steps;
    return [p.y * Math.cos(a), p.y * Math.sin(a), p.x];
  };
  for (let k = 0; k + 1 < ring.length; k++) {
    const [p, q] = [ring[k], ring[k + 1]];
    if (p.y < 1e-9 && q.y < 1e-9) continue;
    for (let i = 0; i < steps; i++) {
      const corners = [at(p, i), at(p, i + 1), at(q, i + 1), at(q, i)];
      if (p.y >= 1e-9) out.push(...corners[0], ...corners[1], ...corners[2]);
      if (q.y >= 1e-9) out.push(...corners[0], ...corners[2], ...corners[3]);
    }
  }
  return Float64Array.from(out);
};

/** Binary STL of triangles. */
export const writeStl = (corners: Float64Array): Uint8Array => {
  const n = corners.length / 9;
  const bytes = new Uint8Array(84 + 50 * n);
  const view = new DataView(bytes.buffer);
  view.setUint32(80, n, true);
  for (let i = 0; i < n; i++) {
    const c = corners.subarray(i * 9, i * 9 + 9);
    const u = [c[3] - c[0], c[4] - c[1], c[5] - c[2]];
    const v = [c[6] - c[0], c[7] - c[1], c[8] - c[2]];
    const normal = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const size = Math.hypot(...normal) || 1;
    for (let k = 0; k < 3; k++) view.setFloat32(84 + i * 50 + k * 4, normal[k] / size, true);
    for (let k = 0; k < 9; k++) view.setFloat32(84 + i * 50 + 12 + k * 4, c[k], true);
  }
  return bytes;
};
