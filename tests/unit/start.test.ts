import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { connect, createServer } from 'node:net';
import { afterAll, describe, expect, it } from 'vitest';

const { DATABASE_URL: _url, OWNER_DATABASE_URL: _owner, PORT: _port, ...env } = process.env;
const folders: string[] = [];

/** A folder with the scripts only, as a checkout of its own. */
const checkout = (): string => {
  const folder = mkdtempSync('/tmp/lively-start-');
  folders.push(folder);
  execFileSync('chmod', ['755', folder]);
  cpSync('bin', `${folder}/bin`, { recursive: true });
  return folder;
};
const bash = (folder: string, script: string, more: Record<string, string> = {}) =>
  spawnSync('bash', ['-c', `. bin/lib.sh; ${script}`], { cwd: folder, env: { ...env, ...more }, encoding: 'utf8' });
const start = (folder: string, ...args: string[]) =>
  spawnSync('bin/start', args, { cwd: folder, env, encoding: 'utf8', timeout: 180_000 });

afterAll(() => {
  for (const folder of folders) {
    bash(folder, 'find_pg_home; pg_as "$PG_BIN/pg_ctl" -D "$PG_HOME/data" -m immediate stop');
    rmSync(folder, { recursive: true, force: true });
  }
});

describe('bin/start', () => {
  it.each([
    [['--port', 'soon'], '“soon” is no port: give a number from 1024 to 65535.'],
    [['--port', '70000'], '70000 is no port: give a number from 1024 to 65535.'],
    [['--gracefully'], 'bin/start knows --reset, --yes'],
    [
      ['--host'],
      'With --host everybody on the network can knock, and without encryption passwords and jobs can be read',
    ],
    [['--host', '--tls', '/no/such.pem', '/no/such.key'], '--tls wants two files that can be read'],
  ])('refuses %j with one clear sentence', (args, words) => {
    const r = start(checkout(), ...args);
    expect(r.status).toBe(2);
    expect(r.stderr).toContain(words);
  });
  it('says when there is nothing to stop, and forgets a run file that came with a copy or whose process is gone', () => {
    const folder = checkout();
    mkdirSync(`${folder}/.data`);
    for (const run of [
      { root: '/somewhere/else', pid: process.pid },
      { root: folder, pid: 999_999 },
    ]) {
      writeFileSync(`${folder}/.data/run.json`, JSON.stringify(run));
      const r = start(folder, '--stop');
      expect(r.status).toBe(0);
      expect(r.stdout).toContain('Nothing serves this checkout.');
    }
  });
  it('refuses a folder without room before it begins', () => {
    const r = bash(checkout(), 'need_room 99999999');
    expect(r.status).toBe(1);
    expect(r.stderr).toMatch(/^Only \d+ MB are free under .*; 99999999 MB are needed\./);
  });
  it('knows a port that is taken', async () => {
    const server = createServer().listen(0, '127.0.0.1');
    await new Promise((r) => server.once('listening', r));
    const { port } = server.address() as { port: number };
    const r = bash(checkout(), `port_taken ${port} && free_port ${port}`);
    server.close();
    expect(r.status).toBe(0);
    expect(Number(r.stdout)).toBeGreaterThan(port);
  });
});

describe('the database of a checkout', () => {
  const ready = 'ensure_database_server; use_database lively';
  const ask = (folder: string, sql: string): string => {
    const r = bash(folder, `${ready} >/dev/null; keeper lively "${sql}"`, { LIVELY_DB_PORT: '55900' });
    if (r.status !== 0) throw new Error(r.stderr);
    return r.stdout.trim().split('\n').at(-1) ?? '';
  };
  it('lets nobody in without a password, keeps the passwords to its user, and no role that works is a superuser', () => {
    const folder = checkout();
    expect(
      ask(
        folder,
        `select string_agg(rolname || rolsuper, ' ' order by rolname) from pg_roles where rolname in ('lively_app', 'lively_owner')`,
      ),
    ).toBe('lively_appfalse lively_ownerfalse');
    const r = bash(
      folder,
      `${ready} >/dev/null; ls -l "$PG_HOME/secrets" | cut -c1-10; PGPASSWORD=wrong "$PG_BIN/psql" -h 127.0.0.1 -p $DB_PORT -U lively -d postgres -c 'select 1'`,
    );
    expect(r.stdout).toContain('-rw-------');
    expect(r.stderr).toContain('password authentication failed');
  });
  it('is its own in a copied folder: what is deleted in the copy stays in the original', () => {
    const folder = checkout();
    ask(folder, 'create table marker as select 42 as n');
    const copy = mkdtempSync('/tmp/lively-start-');
    folders.push(copy);
    // while the original runs
    execFileSync('cp', ['-a', `${folder}/.`, copy]);
    const said = bash(copy, ready, { LIVELY_DB_PORT: '55900' });
    expect(said.stdout).toContain(`This checkout was copied from ${folder}; its database is its own from now on.`);
    expect(ask(copy, 'select n from marker')).toBe('42');
    expect(ask(copy, 'show data_directory')).toContain(copy);
    ask(copy, 'drop table marker');
    expect(ask(folder, 'select n from marker')).toBe('42');
    expect(ask(folder, 'show data_directory')).toContain(folder);
  });
  it('takes another port where its own is the near end of a connection, which answers nobody', async () => {
    const server = createServer().listen(0, '127.0.0.1');
    await new Promise((r) => server.once('listening', r));
    const connection = connect((server.address() as { port: number }).port, '127.0.0.1');
    await new Promise((r) => connection.once('connect', r));
    const port = connection.localPort ?? 0;
    const r = bash(checkout(), 'ensure_database_server; echo "$DB_PORT"', { LIVELY_DB_PORT: String(port) });
    connection.destroy();
    server.close();
    expect(r.stderr).toBe('');
    expect(Number(r.stdout.trim().split('\n').at(-1))).toBeGreaterThan(port);
  });
  it('starts again after it was killed hard, with its stale pid file there', () => {
    const folder = checkout();
    ask(folder, 'create table marker as select 7 as n');
    bash(
      folder,
      'find_pg_home; kill -9 $(pg_as sed -n 1p "$PG_HOME/data/postmaster.pid") $(pgrep -P $(pg_as sed -n 1p "$PG_HOME/data/postmaster.pid"))',
    );
    const raised = spawnSync('bin/database', [], { cwd: folder, env, encoding: 'utf8' });
    expect(raised.stdout).toContain('the database was down and is started again');
    expect(ask(folder, 'select n from marker')).toBe('7');
  });
});

describe('backup and restore', () => {
  const run = (folder: string, command: string, ...args: string[]) =>
    spawnSync(command, args, {
      cwd: folder,
      env: { ...env, LIVELY_DB_PORT: '55950' },
      encoding: 'utf8',
      timeout: 240_000,
    });
  it('bring the whole shop back, refuse what is torn or newer, and lose nothing that was there', {
    timeout: 300_000,
  }, () => {
    const folder = checkout();
    for (const part of ['src', 'demo', 'package.json', 'package-lock.json', 'tsconfig.json'])
      cpSync(part, `${folder}/${part}`, { recursive: true });
    symlinkSync(`${process.cwd()}/node_modules`, `${folder}/node_modules`);
    const sql = (text: string): string =>
      bash(folder, `ensure_database_server >/dev/null; keeper lively "${text}"`).stdout.trim().split('\n').at(-1) ?? '';
    bash(folder, 'ensure_database_server; use_database lively; setup_database >/dev/null', { LIVELY_DB_PORT: '55950' });
    expect(sql('select count(*) from jobs')).toBe('10');
    const made = run(folder, 'bin/backup', 'shop.backup');
    expect(made.stderr).toBe('');
    expect(made.stdout).toContain('10 jobs with 10 revisions, 4 people');
    expect(run(folder, 'bin/backup', 'shop.backup').stderr).toContain('is there already');
    sql(`update jobs set labels = '{later}'`);
    const whole = readFileSync(`${folder}/shop.backup`);
    for (const share of [0.1, 0.7]) {
      writeFileSync(`${folder}/torn.backup`, whole.subarray(0, whole.length * share));
      const torn = run(folder, 'bin/restore', 'torn.backup');
      expect(torn.status).toBe(1);
      expect(torn.stderr).toContain('is not a whole backup');
    }
    execFileSync(
      'bash',
      [
        '-c',
        `mkdir n && tar -xf shop.backup -C n && sed -i 's/004_releases.sql/999_later.sql/' n/manifest.json && tar -cf newer.backup -C n manifest.json shop.dump`,
      ],
      { cwd: folder },
    );
    const newer = run(folder, 'bin/restore', 'newer.backup');
    expect(newer.status).toBe(1);
    expect(newer.stderr).toContain('made by a newer program (999_later.sql');
    expect(sql(`select count(*) from jobs where labels = '{later}'`)).toBe('10');
    const back = run(folder, 'bin/restore', 'shop.backup');
    expect(back.stderr).not.toContain('rror');
    expect(back.stdout).toContain('The shop is back: 10 jobs');
    expect(sql(`select count(*) from jobs where labels = '{}'`)).toBe('10');
    // what was there is kept beside it
    const [, kept] = /database (lively_before_\d+_\d+)/.exec(back.stdout) ?? [];
    const beside = bash(
      folder,
      `ensure_database_server >/dev/null; keeper ${kept} "select count(*) from jobs where labels = '{later}'"`,
    );
    expect(beside.stdout.trim()).toBe('10');
  });
});
