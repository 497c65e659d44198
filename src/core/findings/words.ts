import type { Finding } from './finding';
import { channelWords } from './words/channels';
import { cuttingWords } from './words/cutting';
import { holdingWords } from './words/holding';
import { jobWords } from './words/job';
import { loadWords } from './words/load';
import { machineWords } from './words/machine';
import { motionWords } from './words/motion';
import { threadWords } from './words/threads';
import { toolWords } from './words/tools';
import type { Wording, Words } from './words/wording';

export type { Wording } from './words/wording';

/** The sentence of every code. A code without one does not compile. */
export const FINDING_WORDS: Words = {
  ...channelWords,
  ...cuttingWords,
  ...holdingWords,
  ...jobWords,
  ...loadWords,
  ...machineWords,
  ...motionWords,
  ...threadWords,
  ...toolWords,
};

export const wordFinding = (f: Finding): Wording => {
  const words = (FINDING_WORDS[f.code] as (k: Finding['numbers']) => Wording)(f.numbers);
  return f.time ? { ...words, message: `At number ${f.time.number} of ${f.time.count}: ${words.message}` } : words;
};
