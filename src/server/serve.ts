import { readFileSync } from 'node:fs';
import { createServer, type IncomingMessage, type RequestListener, type ServerResponse } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import next from 'next';
import { closePool } from '../db/pool';
import { admit } from './front';
import { outliveQueue, startWorker } from './work';

/** The server as bin/start runs it: our own front before the pages, and the embedded worker. */
const port = Number(process.env.PORT ?? 4310);
const hostname = process.env.LIVELY_HOST ?? '127.0.0.1';
const { LIVELY_TLS_CERT: cert, LIVELY_TLS_KEY: key } = process.env;

outliveQueue();
const app = next({ dev: false, dir: process.cwd(), hostname, port });
await app.prepare();
const pages = app.getRequestHandler();

const listener: RequestListener = (request: IncomingMessage, response: ServerResponse) => {
  if (!admit(request, response)) return;
  pages(request, response).catch((error: unknown) => {
    console.error(error);
    if (!response.headersSent) response.statusCode = 500;
    response.end();
  });
};

const limits = { headersTimeout: 15_000, requestTimeout: 120_000, keepAliveTimeout: 15_000, maxHeaderSize: 16_384 };
const server =
  cert && key
    ? createSecureServer(
        { ...limits, cert: readFileSync(cert), key: readFileSync(key), minVersion: 'TLSv1.2' },
        listener,
      )
    : createServer(limits, listener);
server.maxConnections = 2000;
server.on('clientError', (_error, socket) => {
  if (socket.writable) socket.end('HTTP/1.1 400 Bad Request\r\nconnection: close\r\ncontent-length: 0\r\n\r\n');
});
server.listen(port, hostname);

const worker = process.env.LIVELY_WORKER === '0' ? null : startAgain();

/** The embedded worker; a database that is away ends it, and it is begun again when that is back. */
function startAgain(): { stop: () => Promise<void> } {
  let stopped = false;
  let current: Awaited<ReturnType<typeof startWorker>> | null = null;
  const loop = async (): Promise<void> => {
    while (!stopped) {
      try {
        current = await startWorker();
        await current.ended;
      } catch (error) {
        if (!stopped) console.error(`worker: ${(error as Error).message}`);
      }
      await current?.stop().catch(() => undefined);
      current = null;
      if (!stopped) await new Promise((r) => setTimeout(r, 2000));
    }
  };
  void loop();
  return {
    stop: async () => {
      stopped = true;
      await current?.stop().catch(() => undefined);
    },
  };
}

let ending = false;
const end = async (): Promise<void> => {
  if (ending) return;
  ending = true;
  server.close();
  server.closeIdleConnections();
  // pages that listen for news would keep the server open for ever
  setTimeout(() => server.closeAllConnections(), 500).unref();
  setTimeout(() => process.exit(0), 6000).unref();
  await worker?.stop();
  await closePool();
  process.exit(0);
};
process.on('SIGTERM', () => void end());
process.on('SIGINT', () => void end());
