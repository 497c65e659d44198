export * from './candidates';
export * from './coverage';
export * from './derive';
export * from './diff';
export * from './document';
export * from './revise';
export * from './validate';
