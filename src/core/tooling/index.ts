export * from './insert';
export type { SectionResult, ToolFacts, ToolField } from './kind';
export { centringDepth } from './kinds/centring';
export * from './mount';
export * from './reach';
export * from './section';
export * from './standing';
export * from './tool';
export * from './upgrade';
