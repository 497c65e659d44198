export * from './events';
export { TimingMemory } from './memory';
export * from './ramps';
export * from './resolve';
export { wantedSpeed } from './spindle';
export * from './timing';
