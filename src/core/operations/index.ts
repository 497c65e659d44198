export { PECK_CLEARANCE } from './drill';
export * from './registry';
export * from './types';
