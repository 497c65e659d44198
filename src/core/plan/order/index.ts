export { type BestOrder, bestOrder, type ComesBack, type OrderCost } from './best';
export type { Forced } from './rules';
