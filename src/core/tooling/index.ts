export * from './insert';
export * from './reach';
export * from './section';
export * from './tool';
