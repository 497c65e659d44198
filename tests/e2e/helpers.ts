import { AxeBuilder } from '@axe-core/playwright';
import { expect, type Page } from '@playwright/test';

/** Where a person's session is kept for the tests. */
export const stateOf = (name: string): string => `test-results/${name.split(' ')[0].toLowerCase()}.session.json`;

/** Names of the demo jobs; copies made by tests carry others. */
const DEMO: Record<string, string> = {
  'LM-101': 'Whorl pulley',
  'LM-104': 'Threaded whorl',
  'LM-118': 'Maiden socket',
  'LM-140': 'Flyer shaft',
  'LM-155': 'Bobbin collar',
  'LM-212': 'Orifice bushing',
};

/** Opens a demo job from the list and waits until it is computed. */
export const openJob = async (page: Page, number: string): Promise<void> => {
  await page.goto('/');
  // the list is paged, and tests make many jobs
  await page.getByLabel('Search jobs').fill(`${number} ${DEMO[number]}`);
  await page
    .getByTestId('job-list')
    .getByRole('link')
    // other demo jobs begin with the same words
    .filter({ hasText: new RegExp(`${number} ${DEMO[number]}(?![,s])`) })
    .first()
    .click();
  await computed(page);
};

/** Waits until blocks are drawn and nothing is being computed. */
export const computed = async (page: Page): Promise<void> => {
  await expect(page.getByTestId('lanes')).toBeVisible();
  await expect(page.getByTestId('progress')).toHaveCount(0);
  await expect(page.getByTestId('stock')).toBeAttached();
};

/** A copy of a demo job of its own, so that tests do not meet. */
export const copyJob = async (page: Page, number: string, name: string): Promise<string> => {
  // the list is paged, and tests make many jobs: search, as a person would
  const words = encodeURIComponent(`${number} ${DEMO[number]}`);
  const list = await (await page.request.get(`/api/jobs?limit=100&words=${words}`)).json();
  const row = list.jobs.find(
    (j: { summary: { number: string; name: string } }) =>
      j.summary.number === number && j.summary.name === DEMO[number],
  );
  const { document } = await (await page.request.get(`/api/jobs/${row.id}`)).json();
  const made = await (
    await page.request.post('/api/jobs', {
      data: { document: { ...document, header: { ...document.header, name } } },
    })
  ).json();
  return made.id;
};

export const saved = async (page: Page): Promise<void> => {
  await expect(page.getByTestId('saving')).toHaveText(/^saved/);
};

export const phase = async (page: Page, name: string): Promise<void> => {
  await page.getByTestId(`phase-${name}`).click();
};

/** The page as it stands has no accessibility fault of WCAG 2 A and AA, and nothing is wider than the window. */
export const faultless = async (page: Page, where: string): Promise<void> => {
  const { violations } = await new AxeBuilder({ page })
    // one frame: no second page is needed to gather what it says
    .setLegacyMode(true)
    .withTags(['wcag2a', 'wcag2aa'])
    .exclude('[data-sonner-toaster]')
    .analyze();
  const places = (v: (typeof violations)[number]): string =>
    v.nodes
      .map((n) => n.target.join(' '))
      .slice(0, 3)
      .join(' | ');
  expect(violations.map((v) => `${where}: ${v.id} ${places(v)}`)).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth), where).toBe(true);
};
