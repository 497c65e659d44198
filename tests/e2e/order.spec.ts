import { expect, test } from '@playwright/test';
import { computed, copyJob, openJob, phase, saved, stateOf } from './helpers';

test('an order with fewer tool changes is found by a worker, taken as one step, proved, and taken back', async ({
  page,
}) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-104', 'Order of mine')}`);
  await computed(page);
  await phase(page, 'plan');
  const blocks = page.locator('[data-testid^="block-op"]');
  const order = (): Promise<(string | null)[]> =>
    blocks.evaluateAll((all) =>
      all
        .map((b) => ({ id: b.getAttribute('data-testid'), x: b.getBoundingClientRect().x }))
        .sort((a, b) => a.x - b.x)
        .map((b) => b.id),
    );
  await computed(page);
  const was = await order();
  await page.getByRole('button', { name: 'Look for fewer tool changes' }).click();
  await expect(page.getByTestId('order-words')).toContainText('14 → 11 tool changes');
  await expect(page.getByTestId('found-order').getByRole('listitem')).toHaveCount(was.length);
  await page.getByRole('button', { name: 'Use this order' }).click();
  await computed(page);
  await saved(page);
  const now = await order();
  expect(now).not.toEqual(was);
  expect([...now].sort()).toEqual([...was].sort());
  await page.getByRole('button', { name: 'Look for fewer tool changes' }).click();
  await expect(page.getByTestId('order-words')).toContainText('11 tool changes. No order with fewer');
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await page.keyboard.press('Control+z');
  await computed(page);
  expect(await order()).toEqual(was);
});

test('somebody who may only look sees the plan, and no button to look for another order', async ({ browser }) => {
  const context = await browser.newContext({ storageState: stateOf('Isa Dole') });
  const page = await context.newPage();
  await openJob(page, 'LM-101');
  await phase(page, 'plan');
  await expect(page.getByRole('button', { name: 'Look for fewer tool changes' })).toHaveCount(0);
  await context.close();
});
