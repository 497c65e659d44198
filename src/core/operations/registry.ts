import { z } from 'zod';
import type { Purpose } from '../cutting';
import type { Tool } from '../tooling';
import { CutoffSchema, cutoffFields, planCutoff } from './cutoff';
import { DrillSchema, drillFields, planDrill } from './drill';
import { FaceSchema, faceFields, planFace } from './face';
import { finishFields, InnerFinishSchema, OuterFinishSchema, planFinish } from './finish';
import { InnerRoughSchema, OuterRoughSchema, planRough, roughFields } from './rough';
import type { Field, PlanContext, Planned } from './types';
import { WaitSchema, waitFields } from './wait';

export const CuttingOperationSchema = z.discriminatedUnion('kind', [
  FaceSchema,
  OuterRoughSchema,
  InnerRoughSchema,
  OuterFinishSchema,
  InnerFinishSchema,
  DrillSchema,
  CutoffSchema,
]);
export type CuttingOperation = z.infer<typeof CuttingOperationSchema>;
export const OperationSchema = z.discriminatedUnion('kind', [...CuttingOperationSchema.options, WaitSchema]);
export type Operation = z.infer<typeof OperationSchema>;
export type OperationKind = Operation['kind'];

export interface KindInfo {
  readonly label: string;
  /** Short word for a lane. */
  readonly short: string;
  readonly fields: readonly Field[];
  /** Which tools can run it. */
  readonly tools: readonly Tool['kind'][];
  readonly purpose: Purpose | null;
  readonly side: 'outer' | 'inner' | 'axis';
  /** Usual place in a sequence: a new operation lands after those with a smaller or the same rank. */
  readonly rank: number;
}

/** One line adds a kind. */
export const KINDS: Record<OperationKind, KindInfo> = {
  face: {
    label: 'Facing',
    short: 'face',
    fields: faceFields,
    tools: ['turning'],
    purpose: 'rough',
    side: 'axis',
    rank: 10,
  },
  drill: {
    label: 'Drilling on centre',
    short: 'drill',
    fields: drillFields,
    tools: ['drill'],
    purpose: 'drill',
    side: 'axis',
    rank: 20,
  },
  'outer-rough': {
    label: 'Outer roughing',
    short: 'rough outside',
    fields: roughFields,
    tools: ['turning'],
    purpose: 'rough',
    side: 'outer',
    rank: 30,
  },
  'inner-rough': {
    label: 'Inner roughing',
    short: 'rough bore',
    fields: roughFields,
    tools: ['boring'],
    purpose: 'rough',
    side: 'inner',
    rank: 40,
  },
  'outer-finish': {
    label: 'Outer finishing',
    short: 'finish outside',
    fields: finishFields,
    tools: ['turning'],
    purpose: 'finish',
    side: 'outer',
    rank: 50,
  },
  'inner-finish': {
    label: 'Inner finishing',
    short: 'finish bore',
    fields: finishFields,
    tools: ['boring'],
    purpose: 'finish',
    side: 'inner',
    rank: 60,
  },
  cutoff: {
    label: 'Cutoff',
    short: 'cut off',
    fields: cutoffFields,
    tools: ['cutoff'],
    purpose: 'cutoff',
    side: 'outer',
    rank: 90,
  },
  wait: { label: 'Wait mark', short: 'wait', fields: waitFields, tools: [], purpose: null, side: 'axis', rank: 0 },
};

export const planOperation = (op: CuttingOperation, ctx: PlanContext): Planned => {
  switch (op.kind) {
    case 'face':
      return planFace(op, ctx);
    case 'outer-rough':
    case 'inner-rough':
      return planRough(op, ctx);
    case 'outer-finish':
    case 'inner-finish':
      return planFinish(op, ctx);
    case 'drill':
      return planDrill(op, ctx);
    case 'cutoff':
      return planCutoff(op, ctx);
    default:
      return op satisfies never;
  }
};
