'use client';
import { type Drive, type Machine, reachOf } from '@/core/machine';

const n = (v: number): string => (Number.isFinite(v) ? String(Number(v.toFixed(1))) : '∞');

const axisTitle = (d: Drive): string =>
  `${d.axis} by ${d.link}, moves the ${d.moves}: ${
    Number.isFinite(d.min) ? `${n(d.min)} to ${n(d.max)}` : 'without end'
  }, rapid ${n(d.rapid / 1000)} ${'ABC'.includes(d.axis) ? '× 1000 °' : 'm'}/min`;

/** Which carrier comes to which spindle, and by which words of its channel. */
export const ReachWords = ({ machine }: { machine: Machine }) => (
  <details className="mt-1">
    <summary className="cursor-pointer text-soft">How its tools come to the work</summary>
    <table className="mt-1 w-full text-left" data-testid="reach">
      <tbody>
        {machine.carriers.flatMap((c) =>
          machine.spindles.map((s) => {
            const drives = Object.values(reachOf(machine, c.id, s.id)?.axes ?? {});
            return (
              <tr key={`${c.id} ${s.id}`} className="border-t border-hair align-top">
                <td className="py-0.5 pr-2">
                  {c.name}
                  {machine.spindles.length > 1 && <span className="block text-soft">at {s.name}</span>}
                </td>
                <td className="num py-0.5">
                  {drives.length === 0 ? (
                    <span className="text-soft">does not come there</span>
                  ) : (
                    drives.map((d) => (
                      <abbr key={d.axis} title={axisTitle(d)} className="mr-1.5 no-underline">
                        {d.word}
                        {d.moves === 'work' && d.axis !== 'C' ? <span className="text-soft">·work</span> : null}
                      </abbr>
                    ))
                  )}
                </td>
              </tr>
            );
          }),
        )}
      </tbody>
    </table>
  </details>
);
