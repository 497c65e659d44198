import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { MaterialSchema } from '../core/cutting';
import { DIALECTS } from '../core/dialects';
import { readMachine } from '../core/machine';
import { readJobText } from '../core/plan';
import { ToolSchema } from '../core/tooling';
import { migrate } from '../db/migrate';
import { closePool, pool, transaction } from '../db/pool';
import { putShop } from '../db/shop';
import { createJob } from './jobs';
import { summarise } from './summary';

const root = process.cwd();
const read = (path: string): unknown => JSON.parse(readFileSync(join(root, path), 'utf8'));

const loadDemo = async (): Promise<number> => {
  await transaction(async (client) => {
    for (const file of readdirSync(join(root, 'demo/machines'))) {
      const found = readMachine(read(`demo/machines/${file}`));
      if (!found.ok) throw new Error(`${file}: ${found.problems.map((p) => p.message).join(' ')}`);
      await putShop(client, 'machines', found.machine.id, found.machine);
    }
    for (const value of read('demo/tools/tools.json') as unknown[]) {
      const tool = ToolSchema.parse(value);
      await putShop(client, 'tools', tool.id, tool);
    }
    for (const value of read('demo/materials/materials.json') as unknown[]) {
      const material = MaterialSchema.parse(value);
      await putShop(client, 'materials', material.id, material);
    }
    for (const dialect of DIALECTS) await putShop(client, 'dialects', dialect.id, dialect);
  });
  let jobs = 0;
  for (const file of readdirSync(join(root, 'demo/jobs')).sort().reverse()) {
    const job = readJobText(readFileSync(join(root, 'demo/jobs', file), 'utf8'));
    if (!job.ok) throw new Error(`${file}: ${job.problems.map((p) => p.message).join(' ')}`);
    await createJob(job.job, job.job.header.author, randomUUID(), summarise(job.job));
    jobs++;
  }
  return jobs;
};

/** Migrates, and loads the demo shop into an empty database or, with --reset, anew. */
const main = async (): Promise<void> => {
  if (process.argv.includes('--reset')) await pool().query('drop schema public cascade; create schema public;');
  const ran = await migrate(join(root, 'src/db/migrations'));
  const { rows } = await pool().query('select count(*)::integer as n from machines');
  const jobs = rows[0].n === 0 ? await loadDemo() : 0;
  console.log(
    `database ready${ran.length > 0 ? `, ${ran.length} migration(s) run` : ''}${jobs > 0 ? `, ${jobs} demo jobs loaded` : ''}`,
  );
  await closePool();
};

await main();
