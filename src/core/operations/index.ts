export * from './registry';
export * from './types';
export { PECK_CLEARANCE } from './drill';
