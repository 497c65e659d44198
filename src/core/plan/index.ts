export { newActor } from './adding';
export { DeriveCache } from './cache';
export * from './candidates';
export * from './coverage';
export * from './cycle';
export * from './derive';
export * from './diff';
export * from './document';
export { splitOff } from './end';
export { dimensionNames, elementEnds, operationNames, withFormulas } from './formulas';
export { bestGrip } from './grip';
export { cutoffBladeIn, cutoffWidthIn } from './held';
export * from './inWords';
export { numberedOffsets, type TakenOver, takeTools } from './kit';
export * from './landing';
export * from './marks';
export * from './newOperation';
export { freeStations, type Placed, placed, sameAgain, withPlaced } from './placing';
export { rankCandidates } from './ranking';
export { stationOf, takesTool } from './references';
export {
  documentId,
  makesParts,
  operationOf,
  pitchOf,
  type Repeat,
  RepeatSchema,
  repeatOf,
  type StickOutYield,
  stickOutYield,
} from './repeats';
export * from './revise';
export { firstId, isSecond, secondChannel, secondId, secondOf, secondTools, worksWith } from './second';
export { threadedIn, threadsIn } from './threadForms';
export * from './upgrade';
export * from './validate';
export * from './view';
