import type { Job } from '../core/plan';
import { type BestOrder, bestOrder } from '../core/plan/order';

/** Looks for an order with fewer tool changes. Runs in a thread. */
export const findOrder = (job: Job): BestOrder => bestOrder(job);
