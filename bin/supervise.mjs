// Keeps the server of this checkout alive: starts it again when it ends or hangs, and its database too, each time with the
// reason in the log. Started by bin/start; ends with SIGTERM.
import { execFile, spawn } from 'node:child_process';
import { renameSync, rmSync, writeFileSync } from 'node:fs';
import http from 'node:http';
import https from 'node:https';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url)).replace(/\/$/, '');
process.chdir(root);
const port = Number(process.env.PORT);
const tls = Boolean(process.env.LIVELY_TLS_CERT);
const url = `${tls ? 'https' : 'http'}://${process.env.LIVELY_NEAR}:${port}`;
const RUN = '.data/run.json';
const log = (text) => console.log(`${new Date().toISOString()} ${text}`);

const note = () => {
  const { LIVELY_HOST: host, LIVELY_SOURCES: sources } = process.env;
  writeFileSync(`${RUN}.new`, JSON.stringify({ root, pid: process.pid, server: child?.pid, port, host, url, sources }));
  renameSync(`${RUN}.new`, RUN);
};

let child = null;
let ending = false;
let startedAt = 0;
/** ms until a server that was ready is started again. */
const SHORT = 250;
let pause = SHORT;

const start = () => {
  startedAt = Date.now();
  const made = spawn(process.execPath, ['--import', './node_modules/tsx/dist/loader.mjs', 'src/server/serve.ts'], {
    stdio: ['ignore', 'inherit', 'inherit'],
    env: process.env,
  });
  child = made;
  note();
  made.on('exit', (code, signal) => {
    if (child === made) child = null;
    if (ending) return;
    log(`the server ended (${signal ?? `code ${code}`}); it is started again in ${pause / 1000} s`);
    setTimeout(start, pause);
    // one that ends before it was ever ready is tried ever more seldom
    pause = Math.min(pause * 2, 30_000);
  });
};

/** ready, away (answers, but its database does not) or silent */
const look = () =>
  new Promise((done) => {
    const request = (tls ? https : http).get(`${url}/api/health`, { timeout: 10_000, rejectUnauthorized: false }, (r) => {
      r.resume();
      r.on('end', () => done(r.statusCode === 200 ? 'ready' : 'away'));
    });
    request.on('timeout', () => request.destroy());
    request.on('error', () => done('silent'));
    request.on('close', () => done('silent'));
  });

const raiseDatabase = () =>
  new Promise((done) => {
    execFile('bash', ['bin/database'], { timeout: 90_000 }, (error, out, err) => {
      const said = `${out}${err}`.trim();
      if (!said.startsWith('the database is running')) log(said || String(error));
      done();
    });
  });

/** ms that a server has to begin with before its silence counts, and between looks. */
const GRACE = 15_000;
const LOOK = 1500;

let silent = 0;
const watch = async () => {
  if (ending) return;
  if (child) {
    const state = await look();
    if (state === 'ready') pause = SHORT;
    // a server that answers but has no database may have lost its own
    if (state === 'away' && process.env.LIVELY_OWN_DATABASE === '1') await raiseDatabase();
    silent = state === 'silent' && Date.now() - startedAt > GRACE ? silent + 1 : 0;
    if (silent >= 4 && child) {
      log('the server has not answered four times; it is ended and started again');
      silent = 0;
      child.kill('SIGKILL');
    }
  }
  setTimeout(watch, LOOK);
};

const end = () => {
  if (ending) return;
  ending = true;
  rmSync(RUN, { force: true });
  if (!child) process.exit(0);
  child.on('exit', () => process.exit(0));
  child.kill('SIGTERM');
  setTimeout(() => child?.kill('SIGKILL'), 8000).unref();
};
process.on('SIGTERM', end);
process.on('SIGINT', end);
start();
void watch();
