// Names what failed, and why, in a few lines each, with what the page showed: reports of Vitest and Playwright as JSON, given by their paths.
import { existsSync, readFileSync } from 'node:fs';
import { stripVTControlCharacters } from 'node:util';

const clean = (text, lines = 6) =>
  stripVTControlCharacters(String(text))
    .split('\n')
    .filter((line) => line.trim() !== '')
    .slice(0, lines)
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
    for (const t of s.tests ?? []) {
      const bad = t.results?.find((r) => r.error);
      if (!bad || t.status === 'skipped') continue;
      console.log(`${s.ok ? 'PASSED ONLY THE SECOND TIME' : 'FAILED'} ${s.title}\n${clean(bad.error.message ?? '')}`);
      const shown = bad.attachments?.find((k) => k.name === 'error-context');
      if (shown?.path && existsSync(shown.path)) console.log(clean(readFileSync(shown.path, 'utf8'), 90));
    }
}
