import { point } from '../../geometry';
import { toolFacts } from '../../tooling';
import type { Sketcher, Stroke } from '../sketch';
import { at, body, bow, inBore, measure, metal, path, rapid, sketch, toolShape } from '../sketch';
import { fromMiddle } from './places';
import type { GrooveOperation } from './schema';

/** What a number of grooving does, in a groove four blades wide and two deep. */
export const grooveSketch: Sketcher<GrooveOperation> = (op, key, tool) => {
  const { params } = op;
  const facts = tool ? toolFacts(tool).blade : undefined;
  const w = facts?.width ?? 3;
  const rho = facts?.cornerRadius ?? 0.2;
  const [width, depth] = [4 * w, 2 * w];
  const a = params.passes === 'finish' ? 0 : params.allowance;
  const flat = Math.max(w - 2 * rho, 0.4 * w);
  const step = params.step ?? flat;
  const mouth = at(
    -width / 2 - w,
    0,
    -width / 2,
    0,
    -width / 2,
    -depth,
    width / 2,
    -depth,
    width / 2,
    0,
    width / 2 + w,
    0,
  );
  const solid = metal(at(-width / 2, 0, width / 2, 0, width / 2, -depth, -width / 2, -depth));
  const under = body(mouth, -depth - w);
  const blade = (left: number, front: number): Stroke =>
    toolShape([
      ...bow(left + rho, front + rho, rho, 180, 270),
      ...bow(left + w - rho, front + rho, rho, 270, 360),
      ...at(left + w, front + 1.4 * w, left, front + 1.4 * w),
    ]);
  const places = fromMiddle(-width / 2 + a, width / 2 - a - w, Math.max(0.05, step));
  const plunges = places.slice(0, 24).map((x) => rapid(at(x, 0.3 * w, x, -depth + a)));
  const level = Math.max(0.05, params.depth ?? (params.method === 'roll' ? rho : w) * 0.5);
  const levels = Array.from({ length: Math.min(24, Math.ceil((depth - a) / level)) }, (_, k) => {
    const y = Math.max(-depth + a, -(k + 1) * level);
    const [l, r] = [-width / 2 + a, width / 2 - a - w];
    if (params.method === 'turn') return path(at(l, y + level, l, y, r, y, r, y + level));
    return path([...bow(l + level, y + level, level, 180, 270), ...bow(r - level, y + level, level, 270, 360)]);
  });
  const made = (() => {
    switch (key) {
      case 'params.step':
        return sketch(
          [solid, ...under, ...plunges, blade(places[0] ?? 0, -depth + a)],
          places.length > 1
            ? [measure(point(places[0], 0.8 * w), point(places[1], 0.8 * w), Math.abs(places[1] - places[0]))]
            : [],
          places.slice(0, 7).map((x, i) => ({ at: point(x + w / 2, 0.35 * w), text: String(i + 1) })),
        );
      case 'params.method':
      case 'params.depth':
        return params.method === 'plunge'
          ? sketch([solid, ...under, ...plunges, blade(places[0] ?? 0, -depth + a)])
          : sketch(
              [solid, ...under, ...levels],
              key === 'params.depth' ? [measure(point(0, 0), point(0, -level), level)] : [],
            );
      case 'params.allowance':
        return sketch(
          [
            solid,
            ...under,
            path(
              at(
                -width / 2 + a,
                0.3 * w,
                -width / 2 + a,
                -depth + a,
                width / 2 - a,
                -depth + a,
                width / 2 - a,
                0.3 * w,
              ),
            ),
          ],
          [measure(point(-width / 2, -depth / 2), point(-width / 2 + a, -depth / 2), params.allowance)],
        );
      case 'params.peck': {
        const p = params.peck;
        const x = -w / 2;
        const downs: number[] = [];
        if (p > 0.05) for (let y = p; y < depth && downs.length < 40; y += p) downs.push(y);
        const way = [
          point(x, 0.3 * w),
          ...downs.flatMap((y, i) =>
            at(
              x + i * 0.18 * w,
              -y,
              x + i * 0.18 * w,
              -y + Math.min(0.3, p / 2),
              x + (i + 1) * 0.18 * w,
              -y + Math.min(0.3, p / 2),
            ),
          ),
          point(x + downs.length * 0.18 * w, -depth),
        ];
        return sketch(
          [solid, ...under, path(way)],
          p > 0.05 ? [measure(point(x - 0.4 * w, 0), point(x - 0.4 * w, -Math.min(p, depth)), p)] : [],
        );
      }
      case 'params.dwell':
        return sketch(
          [solid, ...under, blade(-w / 2, -depth)],
          [],
          [{ at: point(w, -depth * 0.6), text: `${params.dwell} s here` }],
        );
      case 'params.passes':
      case 'params.finishFeed':
      case 'params.overlap': {
        const o = Math.min(params.overlap, width / 4);
        const left = path(at(-width / 2, 0.3 * w, -width / 2, -depth, o, -depth));
        const right = path(at(width / 2, 0.3 * w, width / 2, -depth + 0.12 * w, -o, -depth + 0.12 * w));
        const walls = params.passes === 'plunge' ? [] : [left, right];
        const rough = params.passes === 'finish' || key !== 'params.passes' ? [] : plunges;
        return sketch(
          [solid, ...under, ...rough, ...walls],
          key === 'params.overlap'
            ? [measure(point(-o, -depth + 0.6 * w), point(o, -depth + 0.6 * w), params.overlap)]
            : [],
          key === 'params.finishFeed' ? [{ at: point(0, -depth / 2), text: `${params.finishFeed} % of the feed` }] : [],
        );
      }
      case 'params.alike': {
        const one = (x: number) => at(x - 2 * w, 0, x - w, 0, x - w, -w, x + w, -w, x + w, 0, x + 2 * w, 0);
        const shown = [-5 * w, 0, 5 * w];
        return sketch([
          ...body(shown.flatMap(one), -2 * w),
          ...shown.flatMap((x, i) => (params.alike || i === 1 ? [blade(x - w / 2, -w)] : [])),
        ]);
      }
      default:
        return null;
    }
  })();
  return op.kind === 'inner-groove' ? inBore(made) : made;
};
