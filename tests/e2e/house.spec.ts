import { type Browser, expect, type Page, test } from '@playwright/test';
import { DEMO_PASSWORD } from '../../src/house/demo';
import { givenTime } from '../fixtures/given';
import { computed, copyJob, faultless, phase, saved, stateOf } from './helpers';

const as = async (browser: Browser, name: string): Promise<Page> =>
  (await browser.newContext({ storageState: stateOf(name) })).newPage();

const open = async (page: Page, id: string): Promise<void> => {
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'part');
};

const setRevision = async (page: Page, to: string): Promise<void> => {
  const field = page.getByLabel('Revision', { exact: true });
  await field.fill(to);
  await field.press('Enter');
};

const revisionOf = async (page: Page, id: string): Promise<string> =>
  (await (await page.request.get(`/api/jobs/${id}`)).json()).document.header.revision;

test.describe('signing in', () => {
  test.use({ storageState: { cookies: [], origins: [] } });

  test('wrong and right passwords, the way back to where one wanted, and out again', async ({ page }) => {
    await page.goto('/me');
    await expect(page).toHaveURL(/sign-in\?to=%2Fme/);
    await page.getByLabel('Name').fill('Bram Fenwick');
    await page.getByLabel('Password').fill('not this one at all');
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page.locator('form').getByRole('alert')).toContainText('do not belong together');
    await expect(page.getByText(DEMO_PASSWORD)).toBeVisible();
    await page.getByRole('button', { name: /^Bram Fenwick/ }).click();
    await page.getByRole('button', { name: 'Sign in', exact: true }).click();
    await expect(page).toHaveURL(/\/me$/);
    const cookie = (await page.context().cookies()).find((c) => c.name.startsWith('lively-session'));
    expect(cookie).toMatchObject({ httpOnly: true, sameSite: 'Lax' });
    await page.getByRole('button', { name: 'Sign out' }).click();
    await expect(page).toHaveURL(/sign-in$/);
    // the token itself is worth nothing any more
    await page.context().addCookies(cookie ? [cookie] : []);
    expect((await page.request.get('/api/jobs')).status()).toBe(401);
  });

  test('nothing is told to strangers', async ({ request, baseURL }) => {
    for (const way of ['/api/jobs', '/api/library', '/api/people', '/api/audit', '/api/me', '/api/labels'])
      expect((await request.get(way)).status(), way).toBe(401);
    const health = await request.get('/api/health');
    expect(await health.json()).toEqual({ ready: true });
    expect(health.headers()['x-powered-by']).toBeUndefined();
    // a page of another origin, and a name that is led here
    const post = (headers: Record<string, string>, data = '{}') => request.post('/api/session', { headers, data });
    expect((await post({ 'content-type': 'text/plain' })).status()).toBe(415);
    expect((await post({ 'content-type': 'application/json', origin: 'http://evil.example' })).status()).toBe(403);
    expect((await request.get('/', { headers: { host: 'evil.example' }, maxRedirects: 0 })).status()).toBe(421);
    const policy = (await request.get(`${baseURL}/sign-in`)).headers()['content-security-policy'];
    expect(policy).toMatch(/script-src 'self' 'nonce-[\w+/=]{24}'/);
    expect(policy).toContain("frame-ancestors 'none'");
  });

  test('too many wrong passwords have to wait, whoever tries', async ({ request }) => {
    const nobody = `Nobody ${Date.now()}`;
    const attempt = () => request.post('/api/session', { data: { name: nobody, password: 'x'.repeat(14) } });
    const seen: number[] = [];
    for (let i = 0; i < 8; i++) seen.push((await attempt()).status());
    expect(seen.slice(0, 5)).toEqual([401, 401, 401, 401, 401]);
    expect(seen.at(-1)).toBe(429);
    expect((await attempt()).headers()['retry-after']).toMatch(/^\d+$/);
  });
});

test('whoever reads only sees all and changes nothing', async ({ browser, page }) => {
  const id = await copyJob(page, 'LM-155', 'Read only');
  const isa = await as(browser, 'Isa Dole');
  await isa.goto('/');
  await expect(isa.getByTestId('job-list')).toContainText('Read only');
  await expect(isa.getByRole('button', { name: 'New job' })).toHaveCount(0);
  await open(isa, id);
  await expect(isa.getByText('reads only')).toBeVisible();
  await setRevision(isa, 'Z');
  await expect(isa.locator('[data-sonner-toast]').first()).toContainText('may look at this, not change it');
  expect(await revisionOf(page, id)).not.toBe('Z');
  const edit = { edit: crypto.randomUUID(), base: 1, label: '', diff: { added: {}, updated: {}, removed: {} } };
  const answer = await isa.request.post(`/api/jobs/${id}/edits`, { data: edit });
  expect(answer.status()).toBe(403);
  expect((await answer.json()).message).toContain('program');
  // the refusal is written down, with who and what
  const wren = await as(browser, 'Wren Tolliver');
  const told = await (await wren.request.get('/api/audit?action=right%20refused')).json();
  expect(told.rows[0]).toMatchObject({ name: 'Isa Dole', subject: `POST /api/jobs/${id}/edits` });
  for (const way of ['/people', '/audit']) {
    await isa.goto(way);
    await expect(isa).toHaveURL(/\/$/);
  }
});

test('@alone a second person sees a change within two seconds, and who is there', async ({ browser, page }) => {
  const id = await copyJob(page, 'LM-155', 'Seen at once');
  const bram = await as(browser, 'Bram Fenwick');
  await open(page, id);
  await open(bram, id);
  await expect(page.getByTestId('others')).toContainText('Bram');
  await expect(bram.getByTestId('others')).toContainText('Ottilie');
  await setRevision(page, 'D');
  const given = givenTime();
  await expect(bram.getByLabel('Revision', { exact: true })).toHaveValue('D');
  // the saving itself waits a third of a second for more
  expect(given()).toBeLessThan(2500);
  await expect(bram.locator('[data-sonner-toast]').first()).toContainText('Ottilie Marsh has changed this job');
  // and goes on from there without a conflict
  await setRevision(bram, 'E');
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('E');
  await expect(bram.getByTestId('conflict')).toHaveCount(0);
  await bram.goto('/');
  await expect(page.getByTestId('others')).toHaveCount(0);
  const row = bram.getByTestId('job-list').getByRole('listitem').filter({ hasText: 'Seen at once' });
  await expect(row).toContainText('open now: Ottilie Marsh');
});

/** Two who changed the same while one could not hear of the other. */
const conflict = async (browser: Browser, page: Page, name: string): Promise<{ id: string; bram: Page }> => {
  const id = await copyJob(page, 'LM-155', name);
  const bram = await as(browser, 'Bram Fenwick');
  await open(page, id);
  await open(bram, id);
  await page.route('**/api/jobs/**', (r) => r.abort());
  await setRevision(page, 'MINE');
  await expect(page.getByTestId('saving')).toContainText('not saved');
  await setRevision(bram, 'THEIRS');
  await saved(bram);
  await expect.poll(() => revisionOf(bram, id)).toBe('THEIRS');
  await page.unroute('**/api/jobs/**');
  await expect(page.getByTestId('conflict')).toBeVisible();
  await expect(page.getByTestId('conflict')).toContainText('Bram Fenwick has changed this job');
  await expect(page.getByTestId('conflict')).toContainText('revision THEIRS → MINE');
  return { id, bram };
};

test('a conflict: mine on top, and theirs is one undo away', async ({ browser, page }) => {
  const { id } = await conflict(browser, page, 'Mine on top');
  await page.getByRole('button', { name: /^Mine on top/ }).click();
  await saved(page);
  await expect.poll(() => revisionOf(page, id)).toBe('MINE');
  await page.keyboard.press('Control+z');
  await expect.poll(() => revisionOf(page, id)).toBe('THEIRS');
});

test('a conflict: take theirs, and mine is one undo away', async ({ browser, page }) => {
  const { id } = await conflict(browser, page, 'Take theirs');
  await page.getByRole('button', { name: /^Take theirs/ }).click();
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('THEIRS');
  await page.keyboard.press('Control+z');
  await expect.poll(() => revisionOf(page, id)).toBe('MINE');
});

test('a conflict: keep both, each a job', async ({ browser, page }) => {
  const { id } = await conflict(browser, page, 'Keep both');
  await page.getByRole('button', { name: /^Keep both/ }).click();
  await expect(page.getByTestId('conflict')).toHaveCount(0);
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('THEIRS');
  expect(await revisionOf(page, id)).toBe('THEIRS');
  const { jobs } = await (await page.request.get('/api/jobs?words=Keep%20both%20my%20version')).json();
  expect(await revisionOf(page, jobs[0].id)).toBe('MINE');
});

test('a job that somebody deletes meanwhile: told at once, and one’s own version becomes a new job by a button', async ({
  browser,
  page,
}) => {
  const id = await copyJob(page, 'LM-155', 'Deleted meanwhile');
  await open(page, id);
  const bram = await as(browser, 'Bram Fenwick');
  expect((await bram.request.delete(`/api/jobs/${id}`, { data: {} })).status()).toBe(200);
  await expect(page.locator('[data-sonner-toast]').first()).toContainText('Bram Fenwick has deleted this job');
  await setRevision(page, 'SAVED');
  await expect(page.getByTestId('saving')).toContainText('not there any more');
  await page.getByRole('button', { name: 'Save as a new job' }).click();
  await expect(page).not.toHaveURL(new RegExp(id));
  await computed(page);
  await phase(page, 'part');
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('SAVED');
  await expect(page.getByLabel('Name', { exact: true })).toHaveValue('Deleted meanwhile (my version)');
  await page.goto('/');
  await expect(page.getByTestId('job-list')).toContainText('my version');
  await expect(page.getByTestId('unsaved')).toHaveCount(0);
});

test('unsaved changes outlive a reload, and come back with a word', async ({ page }) => {
  const id = await copyJob(page, 'LM-155', 'Reloaded');
  await open(page, id);
  await page.route('**/edits', (r) => r.abort());
  await setRevision(page, 'KEPT');
  await expect(page.getByTestId('saving')).toContainText('not saved');
  await page.reload();
  await computed(page);
  await expect(page.locator('[data-sonner-toast]').first()).toContainText('had not been saved are back');
  await page.unroute('**/edits');
  await saved(page);
  await expect.poll(() => revisionOf(page, id)).toBe('KEPT');
});

test('unsaved changes outlive a crash of the window', async ({ context, page }) => {
  const id = await copyJob(page, 'LM-155', 'Crashed');
  await open(page, id);
  await page.route('**/edits', (r) => r.abort());
  await setRevision(page, 'KEPT');
  await expect(page.getByTestId('saving')).toContainText('not saved');
  const cdp = await context.newCDPSession(page);
  // the window is gone before it can answer
  void cdp.send('Page.crash').catch(() => undefined);
  await page.waitForEvent('crash');
  const next = await context.newPage();
  await next.goto('/');
  await expect(next.getByTestId('unsaved')).toContainText('Crashed');
  await next.getByTestId('unsaved').getByRole('link').click();
  await computed(next);
  await saved(next);
  await expect.poll(() => revisionOf(next, id)).toBe('KEPT');
  await next.goto('/');
  await expect(next.getByTestId('job-list')).toBeVisible();
  await expect(next.getByTestId('unsaved')).toHaveCount(0);
});

test('going to another job with saves failing loses nothing', async ({ page }) => {
  const id = await copyJob(page, 'LM-155', 'Left unsaved');
  await open(page, id);
  await page.route('**/edits', (r) => r.abort());
  await setRevision(page, 'KEPT');
  await expect(page.getByTestId('saving')).toContainText('not saved');
  await page.getByRole('link', { name: 'All jobs' }).click();
  await expect(page.getByTestId('unsaved')).toContainText('Left unsaved');
  await page.getByTestId('job-list').getByRole('link').filter({ hasText: 'LM-118' }).first().click();
  await computed(page);
  await page.unroute('**/edits');
  // the job that was left goes on being saved
  await expect.poll(() => revisionOf(page, id), { timeout: 90_000 }).toBe('KEPT');
});

test('offline: what is typed is kept and saved when the network is back', async ({ context, page }) => {
  const id = await copyJob(page, 'LM-155', 'Offline');
  await open(page, id);
  await context.setOffline(true);
  await setRevision(page, 'C');
  await expect(page.getByTestId('saving')).toContainText('not saved');
  await context.setOffline(false);
  await saved(page);
  expect(await revisionOf(page, id)).toBe('C');
});

test('a session that ends in the middle of an edit: sign in on the spot, nothing lost', async ({ page, context }) => {
  const id = await copyJob(page, 'LM-155', 'Ended session');
  await open(page, id);
  const kept = await context.cookies();
  await context.clearCookies();
  await setRevision(page, 'ON');
  const dialog = page.getByTestId('signed-out');
  await expect(dialog).toContainText('Nothing is lost');
  await dialog.getByLabel('Password').fill(DEMO_PASSWORD);
  await dialog.getByRole('button', { name: 'Sign in', exact: true }).click();
  await expect(dialog).toHaveCount(0);
  await saved(page);
  expect(await revisionOf(page, id)).toBe('ON');
  await context.addCookies(kept);
});

test('the back button shows the newest, and the next edit is no conflict', async ({ browser, page }) => {
  const id = await copyJob(page, 'LM-155', 'Back button');
  await page.goto('/');
  await page.getByTestId('job-list').getByRole('link').filter({ hasText: 'Back button' }).first().click();
  await computed(page);
  await phase(page, 'part');
  await setRevision(page, 'B1');
  await saved(page);
  await expect.poll(() => revisionOf(page, id)).toBe('B1');
  await page.getByRole('link', { name: 'All jobs' }).click();
  await expect(page.getByTestId('job-list')).toBeVisible();
  const bram = await as(browser, 'Bram Fenwick');
  await open(bram, id);
  await setRevision(bram, 'B2');
  await saved(bram);
  await expect.poll(() => revisionOf(page, id)).toBe('B2');
  await page.goBack();
  await computed(page);
  await phase(page, 'part');
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('B2');
  await setRevision(page, 'B3');
  await saved(page);
  await expect.poll(() => revisionOf(page, id)).toBe('B3');
  await expect(page.getByTestId('conflict')).toHaveCount(0);
});

test('history: who changed what, two over each other, a name, and back', async ({ browser, page }) => {
  const id = await copyJob(page, 'LM-118', 'With a history');
  await open(page, id);
  await setRevision(page, 'H');
  await saved(page);
  await expect.poll(() => revisionOf(page, id)).toBe('H');
  await page.getByRole('link', { name: 'history' }).click();
  await expect(page.getByTestId('revision-2')).toContainText('Ottilie Marsh');
  await expect(page.getByTestId('compare')).toContainText('revision A → H');
  await expect(page.getByTestId('overlaid')).toBeVisible();
  await page.getByTestId('revision-1').getByRole('button', { name: 'Name' }).click();
  await page.getByLabel('Name of the revision').fill('As drawn');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('revision-1')).toContainText('As drawn');
  await page.getByLabel('named ones only').check();
  await expect(page.getByTestId('revisions').getByRole('listitem')).toHaveCount(1);
  await page.getByTestId('revision-1').getByRole('button', { name: 'Go back to this' }).click();
  await expect.poll(() => revisionOf(page, id)).toBe('A');
  await page.getByLabel('named ones only').uncheck();
  await expect(page.getByTestId('revision-3')).toContainText('back to revision 1');
  await expect(page.getByTestId('revisions').getByRole('listitem')).toHaveCount(3);
  // only who may release may release
  await expect(page.getByRole('button', { name: 'Release' })).toHaveCount(0);
  const bram = await as(browser, 'Bram Fenwick');
  await bram.goto(`/jobs/${id}/history`);
  await bram.getByTestId('revision-1').getByRole('button', { name: 'Release' }).click();
  // a worker posts and proves it first; the programs stay with it
  await expect(bram.getByTestId('revision-1')).toContainText('● released');
  await expect(bram.getByTestId('revision-1')).toContainText(/proved 0\.000\d mm/);
  const [program] = await Promise.all([
    bram.waitForEvent('download'),
    bram.getByTestId('revision-1').getByRole('link', { name: 'LM-118-ch1.nc' }).click(),
  ]);
  expect(program.suggestedFilename()).toBe('LM-118-ch1.nc');
});

test('people: one is let in, changed and shut out; the only administrator stays; all of it is told', async ({
  browser,
}) => {
  const wren = await as(browser, 'Wren Tolliver');
  await wren.goto('/people');
  await wren.getByRole('button', { name: 'Add a person' }).click();
  const dialog = wren.getByRole('dialog');
  await dialog.getByLabel('Name', { exact: true }).fill('Piet Larkin');
  await dialog.getByLabel('Password').fill('password1234');
  await dialog.getByRole('button', { name: 'Add' }).click();
  await expect(dialog.getByRole('alert')).toContainText('first that are tried');
  await dialog.getByLabel('Password').fill('warp weft and heddle');
  await dialog.getByRole('button', { name: 'Add' }).click();
  const piet = wren.getByTestId('people').getByRole('row').filter({ hasText: 'Piet Larkin' });
  await expect(piet).toBeVisible();
  const session = await (await browser.newContext()).newPage();
  await session.context().clearCookies();
  const way = { data: { name: 'piet larkin', password: 'warp weft and heddle' } };
  expect((await session.request.post('/api/session', way)).status()).toBe(200);
  expect((await session.request.get('/api/jobs')).status()).toBe(200);
  await piet.getByRole('button', { name: 'Shut out' }).click();
  await expect(piet).toContainText('may not come in');
  expect((await session.request.get('/api/jobs')).status()).toBe(401);
  expect((await session.request.post('/api/session', way)).status()).toBe(401);
  await wren
    .getByTestId('people')
    .getByRole('row')
    .filter({ hasText: 'Wren Tolliver' })
    .getByRole('button', { name: 'Shut out' })
    .click();
  await expect(wren.locator('[data-sonner-toast]').filter({ hasText: 'only administrator' })).toBeVisible();
  await wren.goto('/audit');
  await wren.getByLabel('Words').fill('Piet');
  const list = wren.getByTestId('audit');
  await expect(list).toContainText('person removed');
  await expect(list).toContainText('sign-in refused');
  await wren.getByRole('combobox', { name: 'What was done' }).click();
  await wren.getByRole('option', { name: 'person made' }).click();
  await expect(list).not.toContainText('person removed');
  await expect(list).toContainText('person made');
});

test('the pages of the house have no accessibility fault, in the light and in the dark, and nothing is cut', async ({
  browser,
  page: programmer,
}) => {
  const id = await copyJob(programmer, 'LM-155', 'Looked at');
  const page = await as(browser, 'Wren Tolliver');
  for (const ground of ['light', 'dark']) {
    await page.request.put('/api/me', { data: { units: 'job', across: 'diameter', ground } });
    for (const way of ['/', '/people', '/audit', '/me', `/jobs/${id}/history`]) {
      await page.goto(way);
      await expect(page.getByRole('button', { name: 'Sign out' })).toBeVisible();
      // a few rows say as much as fifty
      if (way === '/') await page.getByLabel('Search jobs').fill('Looked at');
      await page.waitForTimeout(500);
      await faultless(page, `${ground} ${way}`);
    }
  }
  await page.request.put('/api/me', { data: { units: 'job', across: 'diameter', ground: 'light' } });
});

test('a person’s own ways: dark ground, inches, radii', async ({ browser }) => {
  const bram = await as(browser, 'Bram Fenwick');
  await bram.goto('/me');
  await bram.getByLabel(/^inch/).check();
  await bram.getByLabel(/^radius/).check();
  await bram.getByLabel(/^dark/).check();
  await expect(bram.locator('html')).toHaveAttribute('data-ground', 'dark');
  const id = await copyJob(bram, 'LM-155', 'In inches');
  await open(bram, id);
  await expect(bram.locator('html')).toHaveAttribute('data-ground', 'dark');
  await expect(bram.getByLabel('outer row 1 diameter')).toHaveValue(/^0?\.\d+$/);
  const field = bram.getByLabel('outer row 2 diameter');
  await field.fill('0.75');
  await field.press('Enter');
  await saved(bram);
  await expect
    .poll(async () => (await (await bram.request.get(`/api/jobs/${id}`)).json()).document.part.outer.rows[1].diameter)
    .toBeCloseTo(19.05, 6);
  await expect(bram.getByTestId('readout')).toContainText('X R');
  // a feed of a hundredth of an inch each turn, a speed of a thousand feet each minute
  const { document } = await (await bram.request.get(`/api/jobs/${id}`)).json();
  const rough = Object.values(document.operations as Record<string, { id: string; kind: string }>).find(
    (o) => o.kind === 'outer-rough',
  );
  await phase(bram, 'plan');
  await bram.getByTestId(`block-${rough?.id}`).first().click();
  const card = bram.getByTestId('operation-card');
  await expect(card).toContainText('in/rev');
  await expect(card).toContainText('ft/min');
  for (const [label, value] of [
    ['Feed', '0.01'],
    ['Surface speed', '1000'],
  ]) {
    await card.getByLabel(label, { exact: true }).fill(value);
    await card.getByLabel(label, { exact: true }).press('Enter');
  }
  await saved(bram);
  const cutting = async () =>
    (await (await bram.request.get(`/api/jobs/${id}`)).json()).document.operations[rough?.id ?? ''].cutting;
  await expect.poll(async () => (await cutting()).feed).toBeCloseTo(0.254, 6);
  await expect.poll(async () => (await cutting()).speed.value).toBeCloseTo(304.8, 6);
  await bram.request.put('/api/me', { data: { units: 'job', across: 'diameter', ground: 'light' } });
});

test('the list has no end, its search sees all, and labels group', async ({ page }) => {
  const { jobs } = await (await page.request.get('/api/jobs?words=LM-155')).json();
  const { document } = await (await page.request.get(`/api/jobs/${jobs[0].id}`)).json();
  const name = `Crowd ${Date.now()}`;
  const made: string[] = [];
  for (let i = 0; i < 55; i++) {
    const header = { ...document.header, name: `${name} no${i}` };
    const answer = await page.request.post('/api/jobs', { data: { document: { ...document, header } } });
    made.push((await answer.json()).id);
  }
  await page.goto('/');
  await page.getByLabel('Search jobs').fill(name);
  await expect(page.getByTestId('job-count')).toContainText('55 jobs');
  await expect(page.getByTestId('job-list').getByRole('link', { name: /Crowd/ })).toHaveCount(50);
  await page.getByRole('button', { name: 'Show more' }).scrollIntoViewIfNeeded();
  await expect(page.getByTestId('job-list').getByRole('link', { name: /Crowd/ })).toHaveCount(55);
  await page.getByLabel('Search jobs').fill(`${name} no7`);
  const row = page.getByTestId('job-list').getByRole('listitem').filter({ hasText: 'no7' });
  await expect(row).toHaveCount(1);
  await row.getByRole('button', { name: /^Labels of/ }).click();
  await page.getByLabel('New label').fill('for Tuesday');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('labels')).toContainText('for Tuesday');
  await page.keyboard.press('Escape');
  await page.getByLabel('Search jobs').fill('');
  await page
    .getByTestId('labels')
    .getByRole('button', { name: /for Tuesday/ })
    .click();
  await expect(page.getByTestId('job-count')).toContainText('1 jobs');
});

test('an archive goes out with the part’s file and comes in again', async ({ page }) => {
  await page.goto('/');
  const { jobs } = await (await page.request.get('/api/jobs?words=LM-118')).json();
  const archive = await page.request.get(`/api/jobs/${jobs[0].id}/archive`);
  expect(archive.headers()['content-disposition']).toContain('LM-118');
  const body = await archive.body();
  await page.getByTestId('file-input').setInputFiles({ name: 'LM-118.zip', mimeType: 'application/zip', buffer: body });
  await computed(page);
  await expect(page.getByRole('heading', { name: /LM-118/ })).toBeVisible();
  const torn = await page.request.post('/api/archives', {
    headers: { 'content-type': 'application/octet-stream' },
    data: body.subarray(0, body.length >> 1),
  });
  expect(torn.status()).toBe(422);
  expect((await torn.json()).message).toContain('cut short');
});

test('texts that cannot be kept are refused with their place, and what comes later is saved', async ({ page }) => {
  const id = await copyJob(page, 'LM-155', 'Bad texts');
  const edit = (base: number, updated: Record<string, unknown>) =>
    page.request.post(`/api/jobs/${id}/edits`, {
      data: { edit: crypto.randomUUID(), base, label: 't', diff: { added: {}, updated, removed: {} } },
    });
  for (const note of ['a\u0000b', 'half \ud83d', '\udc00']) {
    const answer = await edit(1, { '/header/note': ['', note] });
    expect(answer.status()).toBe(422);
    const body = await answer.json();
    expect(body.message).toContain('header › note');
    expect(body.problems[0].path).toBe('/header/note');
  }
  expect((await edit(1, { '/header/revision': ['A', 'whole 🔩'] })).status()).toBe(200);
  const hash = 'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855';
  const put = (name: string) =>
    page.request.put(`/api/files/${hash}`, {
      headers: { 'content-type': 'application/octet-stream', 'x-file-name': name },
      data: Buffer.from('x'),
    });
  expect((await put('%ff')).status()).toBe(400);
  expect((await put('%00.step')).status()).toBe(400);
  expect((await page.request.get('/api/jobs/%ff')).status()).toBe(400);
  expect((await page.request.get('/jobs/%E0%A4')).status()).toBe(400);
});
