export * from './bounds';
export * from './expression';
