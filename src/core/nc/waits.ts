import type { ReadProblem, ReadProgram } from '../dialects';
import type { Timeline } from '../motion';

/** Waits of programs that were read together whose partners never come, for each program in its order. */
export const lostWaits = (reads: readonly ReadProgram[], timeline: Timeline): ReadProblem[][] =>
  reads.map((read, i) => {
    if (timeline.kind !== 'deadlock') return [];
    const channel = timeline.channels[i];
    const stuck = timeline.waiting.find((w) => w.channel === channel?.id);
    if (!channel || !stuck) return [];
    // the channel stands before the first event that was not run
    const line = read.lines[channel.events.length] ?? 0;
    const others = stuck.channels.filter((c) => c !== stuck.channel);
    return [
      {
        line,
        message: `This wait, mark ${stuck.mark}, is for channel ${others.join(' and ')}, which never comes to it. Write the mark there too, at its place in the order, or take it out here.`,
      },
    ];
  });
