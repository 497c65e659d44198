export type { PostedLine, PostedProgram, PostProblem, ReadProblem, ReadProgram, ToolTableEntry } from '../dialects';
export * from './compare';
export * from './release';
export { lostWaits } from './waits';
