export * from './coverage';
export * from './derive';
export * from './document';
export * from './validate';
export * from './diff';
export * from './candidates';
