import { setOC } from 'replicad';
import init, { type OpenCascadeInstance, type TopoDS_Shape } from 'replicad-opencascadejs';

export type Kernel = OpenCascadeInstance;
export type KernelShape = TopoDS_Shape;

let loading: Promise<Kernel> | null = null;

/**
 * The exact solid kernel, loaded once. The host says where its 23 MB of code come from: a fetched address in the
 * browser, a file's bytes on the command line. A failed load may be tried again.
 */
export const loadKernel = (source: { readonly url: string } | { readonly bytes: Uint8Array }): Promise<Kernel> => {
  if (!loading) {
    const quiet = { print: () => undefined, printErr: () => undefined };
    const options =
      'url' in source ? { ...quiet, locateFile: () => source.url } : { ...quiet, wasmBinary: source.bytes };
    loading = init(options)
      .then((kernel) => {
        setOC(kernel as never);
        return kernel;
      })
      .catch((error: unknown) => {
        loading = null;
        throw error;
      });
  }
  return loading;
};

/** After a fault the kernel's memory is not to be trusted: the next file gets a fresh one. */
export const forgetKernel = (): void => {
  loading = null;
};

/** Runs a kernel call whose failures are exceptions of another world; they come back as a plain message. */
export const guarded = <T>(what: string, run: () => T): T => {
  try {
    return run();
  } catch (error) {
    if (error instanceof Error) throw error;
    throw new Error(`the solid kernel failed while ${what}`);
  }
};
