export { type BestOrder, bestOrder, bestOrderSteps, type ComesBack, type OrderCost } from './best';
export type { Forced } from './rules';
