export * from './finding';
export type { FindingCode, FindingNumbers } from './numbers';
export * from './words';
