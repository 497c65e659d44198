export * from './events';
export { TimingMemory } from './memory';
export * from './ramps';
export * from './resolve';
export { mirroredEvent, shiftEvent } from './shift';
export { wantedSpeed } from './spindle';
export * from './timing';
