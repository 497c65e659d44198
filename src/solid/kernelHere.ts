import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { type Kernel, loadKernel } from './kernel';

/** The solid kernel from the installed package, for what runs without a browser. */
export const kernelHere = (): Promise<Kernel> =>
  loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });
