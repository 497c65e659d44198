export * from './plane';
export * from './rigid';
