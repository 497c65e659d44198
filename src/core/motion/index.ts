export * from './events';
export * from './resolve';
export { wantedSpeed } from './spindle';
export * from './timing';
