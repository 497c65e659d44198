export type { PostedLine, PostProblem, ReadProblem, ReadProgram, ToolTableEntry } from '../dialects';
export * from './compare';
export * from './release';
export { runsOf } from './runs';
export { lostWaits } from './waits';
export { type ZeroToSet, zerosToSet } from './zeros';
