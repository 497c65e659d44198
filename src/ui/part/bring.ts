'use client';
import { proxy } from 'comlink';
import type { Brought } from '@/solid/bringFile';
import { unpacked } from '@/solid/packed';
import type { FileKind, Wishes } from '@/solid/wishes';
import { madeByWorker } from '../job/asked';
import { sha256 } from '../kit/ids';
import { EndedError, solids } from './worker';

/** Longest that the page waits for the server, ms. */
const PATIENCE = 320_000;

/** A file as it was chosen, and how it is to be read; what is left out is as usual. */
export interface ChosenFile {
  readonly name: string;
  readonly kind: FileKind;
  readonly bytes: Uint8Array;
  readonly wishes: Partial<Wishes>;
}

/** Keeps the file beside the job; told to the user only when it fails, for the part itself is safe. */
export const keepFile = async (hash: string, name: string, bytes: Uint8Array): Promise<boolean> => {
  const response = await fetch(`/api/files/${hash}`, {
    method: 'PUT',
    headers: { 'content-type': 'application/octet-stream', 'x-file-name': encodeURIComponent(name) },
    body: bytes.slice().buffer,
  }).catch(() => null);
  return Boolean(response?.ok);
};

const small = async (response: Response): Promise<string> =>
  new Response(response.body?.pipeThrough(new DecompressionStream('gzip'))).text();

/** Has a file that the server keeps read there, by a worker; null when it is nobody's any more. */
const readOnServer = async (
  hash: string,
  { kind, wishes }: ChosenFile,
  wanted: () => boolean,
): Promise<Brought | null> => {
  const made = await madeByWorker({
    url: '/api/imports',
    body: { hash, kind, wishes: { [kind]: wishes[kind] ?? {} } },
    patience: PATIENCE,
    wanted,
    late: 'The server has not read it in time. Try again later, or export a simpler solid.',
  });
  return made && unpacked(await small(made));
};

/**
 * Reads a file in this browser, or has it read by a worker of the shop where the browser cannot: its time or its memory is not
 * enough, or it does not get the kernel. Null when nobody wants it any more.
 */
export const bringAnywhere = async (
  file: ChosenFile,
  onStage: (stage: string) => void = () => undefined,
  wanted: () => boolean = () => true,
): Promise<Brought | null> => {
  try {
    return await solids((api) => api.bring(file.kind, file.bytes, file.wishes, proxy(onStage)));
  } catch (error) {
    if (!wanted() || (error instanceof EndedError && error.byHand)) throw error;
    onStage('server');
    const hash = sha256(file.bytes);
    if (!(await keepFile(hash, file.name, file.bytes))) throw new Error('the server did not take it');
    return readOnServer(hash, file, wanted);
  }
};
