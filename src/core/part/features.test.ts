import { describe, expect, it } from 'vitest';
import { lineRow, solidPart } from '../../../tests/fixtures/parts';
import { buildPart } from './contour';
import { describeFeature } from './feature';
import { turnedFeatures } from './features';
import { featureByHand, listFeatures } from './listing';
import { measureOne, measureTwo, snapAt } from './measure';
import type { Corner, PartDocument, Row } from './profile';

const words = (p: PartDocument): string[] => turnedFeatures(buildPart(p)).map(describeFeature);
const chamfer = (size: number): Corner => ({ kind: 'chamfer', size });
const shaft = (rows: Row[]): PartDocument => solidPart([...rows]);

describe('turned features', () => {
  it('a plain stepped pin: faces, turns, chamfers, a cone', () => {
    expect(
      words(
        shaft([
          lineRow('a', 21, 0, { corner: chamfer(1) }),
          lineRow('b', 21, -15),
          lineRow('c', 30, -15),
          lineRow('d', 40, -35),
          lineRow('e', 40, -50),
          lineRow('f', 0, -50),
        ]),
      ),
    ).toEqual([
      'Face at Z0',
      'Chamfer 1 × 45°',
      'Turned ⌀21 × 14',
      'Face at Z-15',
      'Cone ⌀30–⌀40, 14.04°',
      'Turned ⌀40 × 15',
      'Face at Z-50',
    ]);
  });
  it('a groove in the floor of a recess is both', () => {
    const list = words(
      shaft([
        lineRow('a', 40, 0),
        lineRow('b', 40, -10),
        lineRow('c', 30, -10),
        lineRow('d', 30, -60, { cuts: [{ id: 'g', kind: 'square', z: -30, width: 3, diameter: 24 }] }),
        lineRow('e', 40, -60),
        lineRow('f', 40, -70),
        lineRow('g', 0, -70),
      ]),
    );
    expect(list).toEqual(expect.arrayContaining(['Groove 3 wide, ⌀24', 'Recess 50 long, ⌀30']));
  });
  it('threads are proposed by chamfer or relief, the pitch by the relief, and never without either', () => {
    const thread = (rows: Row[]): string[] => words(shaft(rows)).filter((w) => w.startsWith('Thread'));
    expect(
      thread([
        lineRow('a', 15.9, 0, { corner: chamfer(1.2) }),
        lineRow('b', 15.9, -20),
        lineRow('c', 30, -20),
        lineRow('d', 30, -30),
        lineRow('e', 0, -30),
      ]),
    ).toEqual(['Thread M16 × 2']);
    expect(
      thread([
        lineRow('a', 15.9, 0),
        lineRow('b', 15.9, -20, { corner: { kind: 'relief', size: 1.5 } }),
        lineRow('c', 30, -20),
        lineRow('d', 30, -30),
        lineRow('e', 0, -30),
      ]),
    ).toEqual(['Thread M16 × 1.5']);
    expect(
      thread([
        lineRow('a', 15.9, 0),
        lineRow('b', 15.9, -20),
        lineRow('c', 30, -20),
        lineRow('d', 30, -30),
        lineRow('e', 0, -30),
      ]),
    ).toEqual([]);
    // a journal with a chamfer is no thread, however well its diameter fits
    const round = (length: number): Row[] => [
      lineRow('a', 20, 0, { corner: chamfer(1.2) }),
      lineRow('b', 20, -length),
      lineRow('c', 0, -length),
    ];
    expect(thread(round(57))).toEqual([]);
    expect(thread(round(25))).toEqual(['Thread M20 × 2.5']);
    expect(
      thread([lineRow('a', 17.3, 0, { corner: chamfer(1.2) }), lineRow('b', 17.3, -20), lineRow('c', 0, -20)]),
    ).toEqual([]);
  });
  it('pipe and unified threads by their own diameters, and cones of 1:16', () => {
    const pin = (d: number, front = chamfer(1)): string[] =>
      words(
        shaft([
          lineRow('a', d, 0, { corner: front }),
          lineRow('b', d, -12),
          lineRow('c', 30, -12),
          lineRow('d', 30, -20),
          lineRow('e', 0, -20),
        ]),
      ).filter((w) => w.startsWith('Thread'));
    // major diameters by ISO 228-1 and ASME B1.1
    expect(pin(13.157)).toEqual(['Thread G 1/4']);
    expect(pin(12.7)).toEqual(['Thread 1/2-13 UN']);
    expect(pin(13.3)).toEqual([]);
    // what only comes near an inch thread in whole tenths is a plain diameter: UN 9/16 has 14.2875
    expect(pin(14.28)).toEqual(['Thread 9/16-12 UN']);
    expect(pin(14.3)).toEqual([]);
    expect(pin(13.157, null as never)).toEqual([]);
    // NPT 1/2 (ASME B1.20.1): pitch diameter 19.264 at its small end, threads 0.8 of the pitch of 25.4/14 high
    const from = 19.264 + (0.8 * 25.4) / 14;
    const cone = (growth: number): string[] => {
      const to = from + growth * 14;
      return words(
        shaft([
          lineRow('a', from, 0),
          lineRow('b', to, -14),
          lineRow('c', 30, -14),
          lineRow('d', 30, -20),
          lineRow('e', 0, -20),
        ]),
      ).filter((w) => w.startsWith('Thread'));
    };
    expect(cone(1 / 16)).toEqual(['Thread NPT 1/2']);
    expect(cone(1 / 10)).toEqual([]);
    expect(cone(-1 / 16)).toEqual([]);
  });
  it('undercuts at shoulders are undercuts, not grooves', () => {
    const list = words(
      shaft([
        lineRow('a', 20, 0),
        lineRow('b', 20, -20, { corner: { kind: 'undercut-f', size: 0.6 } }),
        lineRow('c', 30, -20),
        lineRow('d', 30, -30),
        lineRow('e', 0, -30),
      ]),
    );
    expect(list.some((w) => w.startsWith('Undercut 2.'))).toBe(true);
    expect(list.some((w) => w.startsWith('Groove'))).toBe(false);
  });
  it('rings open to the front and to the back are face grooves of their side', () => {
    const part = buildPart(
      shaft([
        lineRow('a', 20, 0),
        lineRow('b', 20, -5),
        lineRow('c', 40, -5),
        lineRow('d', 40, 0),
        lineRow('e', 60, 0),
        lineRow('f', 60, -30),
        lineRow('g', 50, -30),
        lineRow('h', 50, -27),
        lineRow('i', 30, -27),
        lineRow('k', 30, -30),
        lineRow('l', 0, -30),
      ]),
    );
    expect(part.problems).toEqual([]);
    expect(
      turnedFeatures(part)
        .filter((f) => f.kind === 'face-groove')
        .map((f) => [f.access, f.place.inner, f.place.outer, f.sizes.depth]),
    ).toEqual([
      ['main', 20, 40, 5],
      ['back', 30, 50, 3],
    ]);
  });
  it('ids name kind and place: an added row elsewhere does not change them', () => {
    const before = turnedFeatures(
      buildPart(
        shaft([
          lineRow('a', 20, 0),
          lineRow('b', 20, -20),
          lineRow('c', 30, -20),
          lineRow('d', 30, -30),
          lineRow('e', 0, -30),
        ]),
      ),
    );
    const after = turnedFeatures(
      buildPart(
        shaft([
          lineRow('a', 20, 0, { corner: chamfer(1) }),
          lineRow('b', 20, -20),
          lineRow('c', 30, -20),
          lineRow('d', 30, -30),
          lineRow('e', 0, -30),
        ]),
      ),
    );
    const last = (l: typeof before) => l.filter((f) => f.place.front <= -20).map((f) => f.id);
    expect(last(after)).toEqual(last(before));
  });
});

describe('the feature list', () => {
  const document = (): PartDocument =>
    shaft([
      lineRow('a', 20, 0, { corner: chamfer(1) }),
      lineRow('b', 20, -15, { cuts: [{ id: 'g', kind: 'square', z: -5, width: 2, diameter: 16 }] }),
      lineRow('c', 30, -15),
      lineRow('d', 30, -30),
      lineRow('e', 0, -30),
    ]);
  it('takes names, ignoring, splitting, merging and features by hand', () => {
    const d = document();
    const part = buildPart(d);
    const plain = listFeatures(d, part);
    const groove = plain.find((f) => f.kind === 'groove');
    const [front, rear] = plain.filter((f) => f.kind === 'turn');
    if (!groove) throw new Error('no groove');
    const named = listFeatures(
      { ...d, notes: { [groove.id]: { name: 'Clip', ignored: true, tolerance: '', roughness: null } } },
      part,
    ).find((f) => f.id === groove.id);
    expect([named?.words, named?.note.ignored]).toEqual(['Clip', true]);
    expect(listFeatures({ ...d, split: [groove.id] }, part).filter((f) => f.kind === 'groove')).toHaveLength(3);
    const merged = listFeatures({ ...d, merged: [[front.id, rear.id]] }, part);
    expect(merged).toHaveLength(plain.length - 1);
    expect(merged.find((f) => f.id === front.id)?.elements).toEqual([...front.elements, ...rear.elements]);
    const made = featureByHand(part, ['d'], 'thread', 1);
    expect(made?.sizes.diameter).toBe(30);
    expect(listFeatures({ ...d, features: made ? [made] : [] }, part).find((f) => f.from === 'user')?.kind).toBe(
      'thread',
    );
    expect(featureByHand(part, ['nothing'], 'thread', 1)).toBeNull();
  });
});

describe('measuring', () => {
  const part = buildPart(
    shaft([
      lineRow('a', 20, 0),
      lineRow('b', 20, -20),
      lineRow('c', 40, -30),
      lineRow('d', 40, -50),
      lineRow('e', 0, -50),
    ]),
  );
  it('takes hold of ends before middles before sides, and of nothing far away', () => {
    expect(snapAt(part.outer, { x: -0.2, y: 10.2 }, 1)).toMatchObject({ kind: 'end', at: { x: 0, y: 10 } });
    expect(snapAt(part.outer, { x: -10.1, y: 10.2 }, 1)).toMatchObject({ kind: 'middle', at: { x: -10, y: 10 } });
    expect(snapAt(part.outer, { x: -14, y: 10.3 }, 1)).toMatchObject({ kind: 'side', at: { x: -14, y: 10 } });
    expect(snapAt(part.outer, { x: 30, y: 30 }, 1)).toBeNull();
    expect(snapAt(part.outer, { x: 5, y: 0.2 }, 1)?.kind).toBe('axis');
  });
  it('gives the same numbers in either order', () => {
    const a = snapAt(part.outer, { x: -14, y: 10 }, 0.5);
    const b = snapAt(part.outer, { x: -23, y: 13 }, 0.5);
    if (!a || !b) throw new Error('nothing there');
    const numbers = (l: ReturnType<typeof measureTwo>) =>
      Object.fromEntries(l.map((m) => [m.name, Math.round(m.value * 1e6) / 1e6]));
    expect(numbers(measureTwo(a, b))).toEqual(numbers(measureTwo(b, a)));
    expect(numbers(measureTwo(a, b))).toMatchObject({ ΔZ: 9, ΔX: 3, 'Δ⌀': 6, angle: 45 });
    const c = snapAt(part.outer, { x: -42, y: 20 }, 0.5);
    if (!c) throw new Error('nothing there');
    expect(numbers(measureTwo(a, c)).apart).toBeCloseTo(10, 9);
    expect(
      measureTwo(a, b, [
        [0, 0, 0],
        [3, 4, 12],
      ])[0].value,
    ).toBe(13);
    expect(Object.fromEntries(measureOne(a, part.outer[1].curve).map((m) => [m.name, m.value]))).toMatchObject({
      '⌀': 20,
      length: 20,
    });
  });
});
