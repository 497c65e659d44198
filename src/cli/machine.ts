import { type Drive, type Machine, reachOf, type Travel } from '../core/machine';

const n = (v: number): string => (Number.isFinite(v) ? String(Number(v.toFixed(3))) : '∞');
const travel = (t: Travel): { min: number | null; max: number | null; rapid: number; acceleration: number } => ({
  min: Number.isFinite(t.min) ? t.min : null,
  max: Number.isFinite(t.max) ? t.max : null,
  rapid: t.rapid,
  acceleration: t.acceleration,
});

/** How every carrier of a machine comes to the work of every spindle. */
export const reachTable = (machine: Machine) =>
  machine.carriers.flatMap((c) =>
    machine.spindles.map((s) => {
      const reach = reachOf(machine, c.id, s.id);
      const channel = machine.channels.find((k) => k.carrier === c.id)?.id ?? null;
      return {
        carrier: c.id,
        spindle: s.id,
        channel,
        below: reach?.below ?? null,
        axes: Object.values(reach?.axes ?? {}).map((a: Drive) => ({
          axis: a.axis,
          word: a.word,
          link: a.link,
          moves: a.moves,
          ...travel(a),
        })),
      };
    }),
  );

export const machineLines = (machine: Machine): string[] => [
  `${machine.name}: ${machine.description}`,
  ...reachTable(machine).flatMap((r) => {
    const head = `${r.carrier} to ${r.spindle}`;
    if (r.axes.length === 0) return [`${head}: does not come there`];
    return [
      `${head}, channel ${r.channel}, ${r.below ? 'below' : 'above'} the axis`,
      ...r.axes.map(
        (a) =>
          `  ${a.word.padEnd(2)} ${a.axis} by ${a.link} (moves the ${a.moves}) ${a.min === null ? 'without end' : `${n(a.min)} to ${n(a.max ?? 0)}`}, rapid ${n(a.rapid)}/min, ${n(a.acceleration)}/s²`,
      ),
    ];
  }),
];
