export type { Meeting } from './actor';
export { PECK_CLEARANCE } from './drill';
export type { Frame } from './frame';
export { grooveOf } from './groove/span';
export type { Starting } from './kind';
export * from './registry';
export * from './see';
export * from './types';
export { markName, type WaitOperation } from './wait';
