export * from './data';
export * from './formulas';
