import { expect, test } from '@playwright/test';
import { computed, copyJob, faultless, openJob, phase } from './helpers';

const BAD = [
  ['torn.dxf', '0\nSECTION\n2\nENTITIES\n0\nLINE\n10\n1.0', 'ends or breaks'],
  ['empty.dxf', '0\nSECTION\n2\nENTITIES\n0\nENDSEC\n0\nEOF\n', 'hold no lines, arcs, polylines'],
  ['<img src=x onerror=alert(1)>.dxf', 'rubbish', 'gives no turning profile'],
  [
    'torn.step',
    "ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n#1=CARTESIAN_POINT('',(0.,0.",
    'cut off inside entity #1, line 5',
  ],
  [
    'holes.stl',
    'solid x\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid x\n',
    'has holes',
  ],
  ['part.doc', 'x', 'no solid, mesh or drawing'],
  ['cut.spindle.json', '{"format":"lively-spindle-job","version":1,', 'cut short'],
  ['newer.spindle.json', '{"format":"lively-spindle-job","version":42}', 'newer program'],
  ['other.json', '{"hello":1}', 'not a job file'],
] as const;

test('a bad file is refused with the reason, one after another', async ({ page }) => {
  await page.goto('/');
  for (const [name, content, words] of BAD) {
    await test.step(name, async () => {
      await page
        .getByTestId('file-input')
        .setInputFiles({ name, mimeType: 'text/plain', buffer: Buffer.from(content) });
      await expect(page.locator('[data-sonner-toast]').filter({ hasText: words }).first()).toBeVisible();
      await expect(page.locator('[data-sonner-toast] img')).toHaveCount(0);
      await expect(page.getByTestId('job-list')).toBeVisible();
    });
  }
});

test('a bad DXF leaves the part as it was', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-155', 'Stays')}?phase=part`);
  await computed(page);
  const rows = await page.getByTestId('element-table').locator('tbody tr').count();
  await page
    .getByTestId('part-input')
    .setInputFiles({ name: 'torn.dxf', mimeType: 'text/plain', buffer: Buffer.from('0\nSECTION\n2\nENT') });
  await expect(page.getByTestId('bring-in').getByRole('alert')).toContainText('ends or breaks');
  await expect(page.getByTestId('bring-in')).toContainText('The part stays as it was.');
  await page.getByRole('button', { name: 'Leave the part as it was' }).click();
  expect(await page.getByTestId('element-table').locator('tbody tr').count()).toBe(rows);
});

test('an upload of 50 MB is refused by page and server', async ({ page }) => {
  await page.goto('/');
  await page
    .getByTestId('file-input')
    .setInputFiles({ name: 'huge.dxf', mimeType: 'text/plain', buffer: Buffer.alloc(50 * 1048576, 48) })
    .catch(() => undefined);
  const response = await page.request.post('/api/jobs', {
    data: `{"document":"${'x'.repeat(12 * 1048576)}"}`,
    headers: { 'content-type': 'application/json' },
  });
  expect(response.status()).toBe(413);
  expect((await response.json()).message).toContain('larger than');
});

test('an impossible row is told with its place; the rest stays usable', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-155', 'Impossible')}?phase=part`);
  await computed(page);
  const field = page.getByLabel('outer row 2 diameter');
  await field.fill('-4');
  await field.press('Enter');
  await expect(page.getByTestId('element-table').getByRole('alert').first()).toContainText('below the axis');
  await expect(page.getByTestId('phase-part')).toHaveAttribute('data-state', 'blocked');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('phase-part')).toHaveAttribute('data-state', 'ready');
});

test('a machine whose control no program is written for says so before anything is planned, and in Release', async ({
  page,
}) => {
  await page.goto('/');
  await page.getByRole('button', { name: 'New job' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Machine of the new job').click();
  await page.getByRole('option', { name: 'Fellgate Slide' }).click();
  await expect(dialog).toContainText('No program can be written for this machine’s control');
  await dialog.getByRole('button', { name: 'Make the job' }).click();
  await computed(page);
  await phase(page, 'release');
  await expect(page.getByText('No program can be written for this machine’s control')).toBeVisible();
  await expect(page.getByTestId('proof')).toHaveCount(0);
  await expect(page.getByText('There is no program')).toBeVisible();
});

test('keys: phases, stepping, command search, all keys', async ({ page }) => {
  await openJob(page, 'LM-101');
  for (const [key, name] of ['part', 'hold', 'tool', 'plan', 'prove', 'release'].map(
    (n, i) => [String(i + 1), n] as const,
  )) {
    await page.keyboard.press(key);
    await expect(page.getByTestId(`phase-${name}`)).toHaveAttribute('aria-current', 'step');
  }
  await page.keyboard.press('5');
  await page.keyboard.press(']');
  await page.keyboard.press('.');
  await expect(page.getByTestId('clock')).not.toHaveText(/^0:00.0 /);
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('phase, operation, command').fill('cut off');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('operation-card')).toBeVisible();
  await page.keyboard.press('?');
  await expect(page.getByRole('dialog')).toContainText('step a move back');
});

test('no page of the program has an accessibility fault or cut text', async ({ page }) => {
  await page.goto('/');
  await page.getByLabel('Search jobs').fill('Whorl');
  await expect(
    page
      .getByTestId('job-list')
      .getByRole('link', { name: /Whorl pulley/ })
      .first(),
  ).toBeVisible();
  await faultless(page, 'jobs');
  await openJob(page, 'LM-118');
  for (const name of ['part', 'hold', 'tool', 'plan', 'prove', 'release']) {
    await phase(page, name);
    if (name === 'tool') await page.getByTestId('station-map').getByRole('button').first().click();
    if (name === 'plan') {
      await page.getByRole('button', { name: 'whole outside' }).click();
      await expect(page.getByTestId('span-finished')).toBeVisible();
    }
    if (name === 'release') await expect(page.getByTestId('proof')).toBeVisible();
    await faultless(page, name);
  }
  await phase(page, 'plan');
  await page.getByTestId('block-op3').click();
  await faultless(page, 'operation card');
});
