// Names what failed, and why, in a few lines each: reports of Vitest and Playwright as JSON, given by their paths.
import { readFileSync } from 'node:fs';
import { stripVTControlCharacters } from 'node:util';

const clean = (text) =>
  stripVTControlCharacters(String(text))
    .split('\n')
    .filter((line) => line.trim() !== '')
    .slice(0, 6)
    .map((line) => `    ${line.slice(0, 200)}`)
    .join('\n');

const specs = (suite) => [...(suite.specs ?? []), ...(suite.suites ?? []).flatMap(specs)];

for (const path of process.argv.slice(2)) {
  let report;
  try {
    report = JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    continue;
  }
  for (const file of report.testResults ?? []) {
    for (const t of file.assertionResults ?? [])
      if (t.status === 'failed') console.log(`FAILED ${t.fullName}\n${clean(t.failureMessages?.[0] ?? '')}`);
    if (file.status === 'failed' && !file.assertionResults?.length)
      console.log(`FAILED ${file.name}\n${clean(file.message)}`);
  }
  for (const s of (report.suites ?? []).flatMap(specs))
    if (!s.ok) console.log(`FAILED ${s.title}\n${clean(s.tests?.[0]?.results?.at(-1)?.error?.message ?? '')}`);
}
