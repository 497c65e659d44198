import { readFileSync } from 'node:fs';
import { expect, test } from '@playwright/test';
import { computed, copyJob, openJob, phase, saved } from './helpers';

test('LM-101 from the list through every phase to proved G-code', async ({ page }) => {
  await openJob(page, 'LM-101');
  for (const name of ['part', 'hold', 'tool', 'plan', 'prove'])
    await expect(page.getByTestId(`phase-${name}`)).toHaveAttribute('data-state', 'ready');
  await phase(page, 'part');
  await expect(page.getByTestId('element-table').locator('tbody tr')).toHaveCount(8 + 2);
  await phase(page, 'hold');
  await expect(page.getByLabel('Stick-out', { exact: true })).toHaveValue('44');
  await phase(page, 'tool');
  await expect(page.getByTestId('station-map').getByRole('listitem')).toHaveCount(12);
  await phase(page, 'prove');
  await page.getByTestId('block-op3').click();
  const before = await page.getByTestId('readout').textContent();
  await page.keyboard.press('.');
  await page.keyboard.press('.');
  await expect(page.getByTestId('readout')).not.toHaveText(before ?? '');
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  const deviation = Number(
    /([\d.]+) mm/.exec((await page.getByTestId('proof').locator('dd').first().textContent()) ?? '')?.[1],
  );
  expect(deviation).toBeLessThanOrEqual(0.001);
  const download = page.waitForEvent('download');
  await page.getByTestId('download-1').click();
  const file = await (await download).path();
  const text = readFileSync(file, 'utf8');
  expect(text).toContain('G71 P100');
  expect(text).toContain('(LM-101 WHORL PULLEY REV A)');
  // a line leads to its operation
  await page
    .getByTestId('program-1')
    .locator('.cm-scroller')
    .evaluate((scroller) => scroller.scrollTo(0, 0));
  await page.getByTestId('program-1').getByText('(FACE THE FRONT)').click();
  await expect(page.locator('.cm-line.of-operation').first()).toBeVisible();
});

test('a part of one’s own: drawn from a DXF, planned by picking metal, proved, reloaded', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles('demo/drawings/LM-155.dxf');
  await page.getByLabel('Part number').fill('MY-1');
  await page.getByLabel('Name', { exact: true }).fill('Spacer of mine');
  await page.getByLabel('Machine').click();
  await page.getByRole('option', { name: 'Fellgate T2', exact: true }).click();
  await page.getByRole('button', { name: 'Make the job' }).click();
  await computed(page);
  await expect(page.getByTestId('phase-part')).toHaveAttribute('data-state', 'ready');
  // a typed row: arithmetic in a field
  await phase(page, 'plan');
  // the best tool of a kind stands open, the others below it
  const add = async (span: 'outside' | 'bore', kind: string, tool: string): Promise<void> => {
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: `whole ${span}` }).click();
    await expect(page.getByText('Trying every tool')).toHaveCount(0);
    const card = page.getByTestId(`candidate-${kind}-${tool}`);
    if ((await card.count()) === 0) await page.getByTestId(`others-${kind}`).click();
    await card.click();
    await computed(page);
  };
  await add('outside', 'face', 'face-rough-80');
  await add('bore', 'drill', 'drill-7');
  await add('outside', 'outer-rough', 'face-rough-80');
  await add('outside', 'outer-finish', 'finish-55');
  await add('bore', 'inner-finish', 'bore-6');
  await add('outside', 'cutoff', 'cutoff-1.5');
  await expect(page.getByText('Every element is finished.')).toBeVisible();
  const names = await page.locator('[data-testid^=block-]').allTextContents();
  expect(names.length).toBe(6);
  expect(names[0]).toContain('T1');
  expect(names[5]).toContain('T12');
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await saved(page);
  await page.reload();
  await computed(page);
  await expect(page.getByRole('heading', { name: /MY-1/ })).toBeVisible();
  await expect(page.locator('[data-testid^=block-]')).toHaveCount(6);
});

test('undo and redo reach every edit; a number field takes arithmetic and restores with Esc', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-118', 'Undo me')}`);
  await computed(page);
  await page.getByTestId('block-op3').click();
  const feed = page.getByLabel('Feed', { exact: true });
  await feed.fill('0.5/2');
  await feed.press('Enter');
  await expect(feed).toHaveValue('0.25');
  await feed.fill('nonsense');
  await feed.press('Enter');
  await expect(page.getByRole('alert').filter({ hasText: 'Not a number' })).toBeVisible();
  await feed.press('Escape');
  await expect(feed).toHaveValue('0.25');
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await expect(page.getByTestId('block-op3')).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('block-op3')).toBeVisible();
  await page.keyboard.press('Control+z');
  await page.getByTestId('block-op3').click();
  await expect(page.getByLabel('Feed', { exact: true })).toHaveValue('0.3');
  await page.keyboard.press('Control+Shift+z');
  await expect(page.getByLabel('Feed', { exact: true })).toHaveValue('0.25');
  await saved(page);
});

test('operations move by drag where they may, and say why where not', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-101', 'Drag me')}`);
  await computed(page);
  const block = async (id: string) => {
    const b = await page.getByTestId(`block-${id}`).boundingBox();
    if (!b) throw new Error('no block');
    return b;
  };
  const order = async (): Promise<string[]> => {
    const ids = await page
      .locator('[data-testid^=block-]')
      .evaluateAll((els) =>
        els.map((e) => [e.getAttribute('data-testid') ?? '', e.getBoundingClientRect().left] as const),
      );
    return ids.sort((a, b) => a[1] - b[1]).map((k) => k[0].replace('block-', ''));
  };
  const drill = await block('op2');
  const rough = await block('op3');
  await page.mouse.move(drill.x + 8, drill.y + 20);
  await page.mouse.down();
  await page.mouse.move(drill.x + 60, drill.y + 20, { steps: 4 });
  await page.mouse.move(rough.x + rough.width, drill.y + 20, { steps: 6 });
  await page.mouse.up();
  await expect.poll(order).toEqual(['op1', 'op3', 'op2', 'op4', 'op5', 'op6', 'op7']);
  const face = await block('op1');
  const cut = await block('op7');
  await page.mouse.move(face.x + 8, face.y + 20);
  await page.mouse.down();
  await page.mouse.move(face.x + 80, face.y + 20, { steps: 4 });
  await page.mouse.move(cut.x + cut.width + 40, face.y + 20, { steps: 6 });
  await page.mouse.up();
  await expect(page.getByText('The part is off after the cutoff.').first()).toBeVisible();
  await expect.poll(order).toEqual(['op1', 'op3', 'op2', 'op4', 'op5', 'op6', 'op7']);
});

test('Prove leads to the place and moment of a finding', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-101', 'Broken')}`);
  await computed(page);
  await page.getByTestId('block-op1').click();
  const face = page.getByLabel('Face at Z');
  await face.fill('-2');
  await face.press('Enter');
  await computed(page);
  await phase(page, 'prove');
  await page.getByTestId('findings').getByTestId('finding-gouge').click();
  await expect(page.getByTestId('clock')).not.toHaveText(/^0:00.0/);
  await expect(page.getByTestId('phase-prove')).toHaveAttribute('data-state', 'blocked');
});

test('too little stick-out: the missing length is named and one button puts it right', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-101', 'Short')}`);
  await computed(page);
  await phase(page, 'hold');
  const stick = page.getByLabel('Stick-out', { exact: true });
  await stick.fill('26');
  await stick.press('Enter');
  await expect(page.getByTestId('finding-cutoff-meets-jaws')).toContainText('mm of stick-out are missing');
  await page.getByRole('button', { name: /^Stick-out/ }).click();
  await expect(page.getByTestId('finding-cutoff-meets-jaws')).toHaveCount(0);
});

test('LM-140 between chuck and centre: without it the shaft bends, one button brings it back, proved', async ({
  page,
}) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-140', 'Slender')}`);
  await computed(page);
  await phase(page, 'plan');
  await page.getByRole('button', { name: 'evenly' }).click();
  await page.getByTestId('block-op13').click();
  await expect(page.getByTestId('support')).toBeAttached();
  for (const id of ['op9', 'op10', 'op11', 'op12']) {
    await page.getByTestId(`block-${id}`).click();
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await expect(page.getByTestId(`block-${id}`)).toHaveCount(0);
  }
  await expect(page.getByTestId('support')).toHaveCount(0);
  await phase(page, 'prove');
  await expect(page.getByTestId('finding-part-bends').first()).toContainText('at its free end');
  await page.getByRole('button', { name: 'Hold it by the tailstock' }).click();
  await expect(page.getByTestId('finding-part-bends')).toHaveCount(0);
  // the part would now be cut off against the centre
  await page.getByRole('button', { name: 'Draw it back before “Cut off”' }).click();
  await expect(page.getByTestId('finding-support-pushes')).toHaveCount(0);
  await phase(page, 'release');
  await expect(page.getByText('The program does what the plan says.')).toBeVisible();
  await saved(page);
});

test('a tool from the library: into a station, its numbers changed, and a centre hole drilled with it', async ({
  page,
}) => {
  const id = await copyJob(page, 'LM-118', 'Centred');
  await page.goto(`/jobs/${id}?phase=tool`);
  await computed(page);
  const station = page.getByTestId('station-map').getByRole('listitem').nth(1);
  await station.getByRole('button', { name: /take a tool/ }).click();
  await page.getByLabel('Search the library').fill('centre');
  await page
    .getByTestId('library-list')
    .getByRole('button', { name: /Centre drill 3.15/ })
    .click();
  const card = page.getByTestId('tool-card');
  await expect(card).toContainText('In station 2');
  await expect(card.getByLabel('Pilot ⌀')).toHaveValue('3.15');
  // a number that cannot be is told and not taken
  await card.getByLabel('Body ⌀').fill('9000');
  await card.getByLabel('Body ⌀').press('Enter');
  await expect(page.getByText(/body ⌀: .*at most 2000/)).toBeVisible();
  await expect(card.getByLabel('Body ⌀')).toHaveValue('8');
  await card.getByLabel('Stick-out').fill('30 + 2');
  await card.getByLabel('Stick-out').press('Enter');
  await expect(card.getByLabel('Stick-out')).toHaveValue('32');
  // the operation lands between facing and drilling, and says what it asks for
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('phase, operation, command').fill('centre drilling');
  await page.keyboard.press('Enter');
  await computed(page);
  const operation = page.getByTestId('operation-card');
  await expect(operation).toContainText('Centre drilling · T2');
  await expect(operation.getByText('ready')).toBeVisible();
  await operation.getByLabel('Mouth').fill('12');
  await operation.getByLabel('Mouth').press('Enter');
  await expect(operation).toContainText('this centre drill makes ⌀3.15 to ⌀8');
  await operation.getByRole('button', { name: 'Mouth by DIN 332' }).click();
  await expect(operation.getByText('ready')).toBeVisible();
  await saved(page);
  await page.reload();
  await computed(page);
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await expect(page.getByTestId('program-1')).toContainText('(T02 CENTRE DRILL 3.15 X 8)');
});

test('LM-118 turned round: a second side in its own jaws, a program for each, proved', async ({ page }) => {
  const id = await copyJob(page, 'LM-118', 'Socket both sides');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'hold');
  // a job of one side shows nothing of sides but the way to a second one
  await expect(page.getByTestId('sides')).toHaveCount(0);
  await expect(page.getByTestId('holding-switch')).toHaveCount(0);
  await page.getByTestId('turn-round').click();
  await computed(page);
  await expect(page.getByTestId('sides').getByRole('listitem')).toHaveCount(2);
  await expect(page.getByTestId('hold-card')).toContainText('What “First side” leaves, turned round: 36 long.');
  await expect(page.getByLabel('Grip', { exact: true })).toHaveValue('8');
  await expect(page.getByLabel('Work offset')).toContainText('G55');
  await page.getByRole('button', { name: 'let the cutoff leave 0.5 to face' }).click();
  await expect(page.getByTestId('hold-card')).toContainText('0.5 to face off');
  // jaws that reach over the cone touch it at one place only
  await page.getByLabel('Grip', { exact: true }).fill('20');
  await page.getByLabel('Grip', { exact: true }).press('Enter');
  await expect(page.getByText(/The jaws touch the piece over/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await phase(page, 'plan');
  // the picked metal is that of the side which is shown
  await page.getByTestId('element-o6').click({ force: true });
  await page.getByTestId('candidate-face-face-rough-80').click();
  await computed(page);
  await page.getByRole('button', { name: 'whole outside' }).click();
  await page.getByTestId('candidate-outer-finish-finish-55').click();
  await computed(page);
  await expect(page.getByText('Every element is finished.')).toBeVisible();
  await expect(page.getByTestId('border-h2')).toBeVisible();
  // a click on a block of the first side shows that side
  await page.getByTestId('block-op3').click();
  await expect(page.getByTestId('holding-switch').getByRole('button', { name: /First side/ })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await expect(page.getByTestId('download-2-1')).toBeVisible();
  await expect(page.getByTestId('program-2-1')).toContainText('G55');
  await page.getByLabel('Between the sides').click();
  await page.getByRole('option', { name: 'one program with a stop' }).click();
  await expect(page.getByTestId('download-1')).toBeVisible();
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await saved(page);
  await page.reload();
  await computed(page);
  await phase(page, 'hold');
  await expect(page.getByTestId('sides').getByRole('listitem')).toHaveCount(2);
});

test('LM-212 handed over: the back in the sub-spindle, tied with marks, both channels proved', async ({ page }) => {
  const id = await copyJob(page, 'LM-212', 'Bushing handed over');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await expect(page.getByTestId('cord-3')).toHaveAttribute('data-whole', 'true');
  await expect(page.getByTestId('cycle')).toContainText('one part every');
  // the main spindle begins the next part while the back of this one is made
  await expect(page.getByTestId('next-op1')).toBeAttached();
  // begin anew from the main spindle alone
  await phase(page, 'hold');
  await page.getByRole('button', { name: 'Remove Sub-spindle' }).click();
  await computed(page);
  await expect(page.getByTestId('sides')).toHaveCount(0);
  await expect(page.getByTestId('cord-4')).toHaveCount(0);
  await page.getByTestId('hand-over').click();
  await computed(page);
  await expect(page.getByTestId('hold-card')).toContainText('taken over by its front');
  await expect(page.getByLabel('Work offset')).toContainText('G55');
  await phase(page, 'plan');
  await page.getByTestId('element-o7').click({ force: true });
  await page.getByTestId('candidate-face-face-rough-80-left').click();
  await computed(page);
  // it begins before the part is there: the finding says so and places the mark
  await expect(page.getByText(/has its work only at/).first()).toBeVisible();
  await page.getByRole('button', { name: 'Let it begin after that' }).first().click();
  await computed(page);
  await expect(page.getByText(/has its work only at/)).toHaveCount(0);
  await page.getByTestId('element-o6/corner').click({ force: true });
  await page.getByTestId('candidate-outer-finish-finish-55-left').click();
  await computed(page);
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await expect(page.getByTestId('program-1')).toContainText('(PIECE FROM MAIN SPINDLE, GRIP 19 ON DIA 34)');
  const download = page.waitForEvent('download');
  await page.getByTestId('download-1').click();
  expect(readFileSync(await (await download).path(), 'utf8')).toMatch(
    /T1212\n[^M]*M68\nG97 S500 M3\nM75\nA[\d.]+\nM82\n/,
  );
  // a cord drawn from one lane to the other is a mark
  await phase(page, 'plan');
  const cords = await page.locator('[data-testid^="cord-"]').count();
  await page.getByTestId('tie-op5-end').hover({ force: true });
  await page.mouse.down();
  const box = await page.getByTestId('block-op6').boundingBox();
  if (!box) throw new Error('op6 is drawn');
  await page.mouse.move(box.x + 6, box.y + 12, { steps: 6 });
  await page.mouse.up();
  await expect(page.locator('[data-testid^="cord-"]')).toHaveCount(cords + 1);
  await expect(page.getByText('The one waits for the other.')).toBeVisible();
  await saved(page);
});

test('LM-104: a groove and a thread are picked, offered, cut and proved', async ({ page }) => {
  const id = await copyJob(page, 'LM-104', 'Whorl of mine');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'plan');
  await expect(page.getByTestId('thread-op12')).toBeAttached();
  const remove = async (op: string): Promise<void> => {
    await page.getByTestId(`block-${op}`).click();
    await page.getByRole('button', { name: 'Delete', exact: true }).click();
    await computed(page);
  };
  await remove('op9');
  await remove('op12');
  // the floor of the V groove stands for all of it, and the blades that come to its bottom are offered
  await page.getByTestId('element-o10').click({ force: true });
  await page.getByTestId('candidate-outer-groove-groove-2').click();
  await computed(page);
  await expect(page.getByText('Every element is finished.')).toBeVisible();
  // a finished cylinder may still get its thread: from its diameter the designation is known
  await page.keyboard.press('Escape');
  await page.getByTestId('element-o1').click({ force: true });
  const thread = page.getByTestId('candidate-outer-thread-thread-60-fine');
  await expect(thread).toContainText('M30x1.5');
  await thread.click();
  await computed(page);
  await expect(page.getByLabel('Thread', { exact: true })).toHaveValue('M30x1.5');
  // a thread of another diameter is told
  await page.getByLabel('Thread', { exact: true }).fill('M24x1.5');
  await page.getByLabel('Thread', { exact: true }).press('Enter');
  await expect(page.getByText(/M24x1.5 wants ⌀/)).toBeVisible();
  await computed(page);
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Thread', { exact: true })).toHaveValue('M30x1.5');
  await expect(page.getByText(/M24x1.5 wants ⌀/)).toHaveCount(0);
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await saved(page);
});

test('a card draws the number that is looked at; elements have their own feed; tools come from another job', async ({
  page,
}) => {
  const id = await copyJob(page, 'LM-118', 'Looked closely at');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'plan');
  await page.getByTestId('block-op3').click();
  const drawing = page.getByTestId('explain');
  await page.getByLabel('Allowance X', { exact: true }).focus();
  await expect(drawing).toContainText('Allowance X');
  await page.getByLabel('Allowance X', { exact: true }).fill('0.7');
  await page.getByLabel('Allowance X', { exact: true }).press('Enter');
  await expect(drawing.locator('svg')).toContainText('⌀0.7');
  // a feed of its own for one element of the finishing pass
  await page.getByTestId('block-op5').click();
  await page.getByRole('button', { name: /Feed and speed of elements/ }).click();
  const feed = page.getByTestId('element-feeds').getByRole('textbox').first();
  await feed.fill('0.05');
  await feed.press('Enter');
  await expect(page.getByRole('button', { name: /Feed and speed of elements/ })).toContainText('1 of');
  await saved(page);
  const own = async (): Promise<number> => {
    const { document } = await (await page.request.get(`/api/jobs/${id}`)).json();
    return Object.keys(document.operations.op5.params.own).length;
  };
  expect(await own()).toBe(1);
  await phase(page, 'tool');
  const standing = page.getByTestId('station-map').first().getByRole('button').filter({ hasText: 'empty' });
  const free = await standing.count();
  await page.getByLabel('Find a job whose tools are wanted').fill('LM-104 Threaded whorl');
  await page.getByTestId('tool-donors').getByRole('button').first().click();
  await expect(page.locator('[data-sonner-toast]').first()).toContainText('taken over from LM-104');
  expect(await standing.count()).toBeLessThan(free);
  await page.keyboard.press('Control+z');
  await expect(standing).toHaveCount(free);
  await phase(page, 'release');
  await expect(page.getByTestId('zeros')).toContainText('G54');
});

test('LM-155: several parts from one stick-out, as a sub-program, proved', async ({ page }) => {
  const id = await copyJob(page, 'LM-155', 'Collars of mine');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'hold');
  const set = async (label: string, value: string): Promise<void> => {
    await page.getByLabel(label, { exact: true }).fill(value);
    await page.getByLabel(label, { exact: true }).press('Enter');
    await computed(page);
  };
  await set('Parts', '4');
  await expect(page.getByTestId('parts-fit')).toContainText('1 fit in 20');
  await expect(page.getByText(/4 parts want a stick-out of 42.5 mm/)).toBeVisible();
  // however much there is to say, the page itself does not scroll
  expect(await page.evaluate(() => document.documentElement.scrollHeight <= window.innerHeight)).toBe(true);
  await page.getByRole('button', { name: /Stick-out 42.5 mm/ }).click();
  await computed(page);
  await expect(page.getByText(/4 parts want a stick-out/)).toHaveCount(0);
  await expect(page.getByTestId('other-parts').locator('path')).toHaveCount(6);
  await expect(page.locator('[data-testid^="rest-"]')).toContainText('3 more');
  await page.getByRole('combobox', { name: 'Posted' }).click();
  await page.getByRole('option', { name: 'sub-program' }).click();
  await computed(page);
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  // the editor holds only the lines in sight
  await expect(async () => {
    await page
      .locator('.cm-scroller')
      .first()
      .evaluate((el) => el.scrollTo(0, el.scrollHeight));
    await expect(page.getByText('M99', { exact: true })).toBeVisible({ timeout: 500 });
  }).toPass({ timeout: 60_000 });
  // an operation that is deleted leaves the group; undone, it is back in it
  await phase(page, 'plan');
  await page.locator('[data-testid^="block-"]').nth(4).click();
  await expect(page.getByText('Runs 4 times, once for each part.')).toBeVisible();
  await page.getByRole('button', { name: 'Delete', exact: true }).click();
  await computed(page);
  await page.keyboard.press('Control+z');
  await computed(page);
  await expect(page.locator('[data-testid^="rest-"]')).toContainText('3 more');
  await saved(page);
});

test('edges are broken without drawing them, and passes run another way', async ({ page }) => {
  const id = await copyJob(page, 'LM-101', 'Whorl with edges');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'part');
  await page.getByRole('combobox', { name: 'outer row 3 corner', exact: true }).click();
  await page.getByRole('option', { name: 'sharp' }).click();
  await computed(page);
  await expect(page.getByTestId('features').getByRole('button', { name: 'Chamfer 0.3 × 45°' })).toHaveCount(0);
  await page.getByRole('combobox', { name: 'Edges not drawn otherwise' }).click();
  await page.getByRole('option', { name: 'chamfer' }).click();
  await computed(page);
  await expect(page.getByTestId('features').getByRole('button', { name: 'Chamfer 0.3 × 45°' }).first()).toBeVisible();
  await phase(page, 'plan');
  await page.getByTestId('block-op3').click();
  await page.getByRole('combobox', { name: 'Passes run' }).click();
  await page.getByRole('option', { name: 'along X' }).click();
  await computed(page);
  await phase(page, 'release');
  await expect(page.getByTestId('proof')).toContainText('The program does what the plan says.');
  await saved(page);
});

test('LM-212: a second turret takes the same passes, and a block holds two tools', async ({ page }) => {
  const id = await copyJob(page, 'LM-212', 'Two tools at once');
  await page.goto(`/jobs/${id}`);
  await computed(page);
  await phase(page, 'tool');
  const lower = page.getByRole('list', { name: 'Stations of Lower turret' });
  await lower.getByRole('listitem').nth(4).getByRole('button').first().click();
  await page
    .getByTestId('library-list')
    .getByRole('button')
    .filter({ hasText: /80°CNMG/ })
    .last()
    .click();
  await expect(lower).toContainText('Facing and roughing 80° (2)');
  // a drill beside another in one block: its own offset, 40 mm along
  await lower.getByRole('button', { name: 'Another tool in the block of station 2' }).click();
  await page.getByTestId('library-list').getByRole('button').filter({ hasText: 'Drill' }).first().click();
  await expect(page.getByLabel('Offset')).toHaveValue('13');
  await expect(page.getByLabel('In the block, along')).toHaveValue('40');
  await phase(page, 'plan');
  await page.getByTestId('block-op3').click();
  await page.getByRole('combobox', { name: 'Second tool' }).click();
  await page.getByRole('option', { name: /80° \(2\)/ }).click();
  await expect(page.getByTestId('share-op3')).toContainText('T5');
  await computed(page);
  await phase(page, 'release');
  await expect(page.getByText('The program does what the plan says.')).toBeVisible();
  // this machine has another code for its sub-spindle's chuck: the program has it, and is proved with it
  await page.getByTestId('machine-codes').locator('summary').click();
  const code = page.getByRole('textbox', { name: 'Code of chuck sub open' });
  const type = async (text: string): Promise<void> => {
    await code.fill(text);
    await code.press('Enter');
  };
  await type('41');
  await expect(code).toHaveValue('M41');
  await expect(page.getByTestId('machine-codes')).toContainText('1 of its own');
  await expect(page.getByText('The program does what the plan says.')).toBeVisible();
  // what is no code, and what has another meaning, is told
  await type('G41');
  await expect(page.getByText(/“G41” is no code/)).toBeVisible();
  await type('M8');
  await expect(page.getByText(/block.* this program/)).toBeVisible();
  await page.getByRole('button', { name: 'chuck sub open: the control’s code again' }).click();
  await expect(code).toHaveValue('M68');
  await expect(page.getByText('The program does what the plan says.')).toBeVisible();
  await saved(page);
});
