import { expect, type Page, test } from '@playwright/test';
import { computed, copyJob, phase, saved } from './helpers';

/** A job made from one of the demo's solids, optionally planned like a demo job. */
const fromSolid = async (page: Page, name: string, number: string, like?: string): Promise<void> => {
  await page.goto('/');
  await page.getByTestId('file-input').setInputFiles(`demo/solids/${name}.step`);
  await page.getByLabel('Part number').fill(number);
  if (like) {
    // with many jobs in the shop the template is looked for among all of them
    const find = page.getByLabel('Find a job');
    if (await find.isVisible()) {
      const found = page.waitForResponse((r) => r.url().includes('/api/jobs?words='));
      await find.fill(like);
      await found;
    }
    await page.getByRole('combobox', { name: 'Template' }).click();
    await page.getByRole('option', { name: like }).first().click();
  }
  await page.getByRole('button', { name: 'Make the job' }).click();
  await expect(page.getByTestId('features')).toBeVisible();
};

// the features of every demo solid are held by src/solid/solid.test.ts; here one comes through the page
test('a solid becomes a section with features', async ({ page }) => {
  await fromSolid(page, 'LM-260', 'S-260');
  for (const f of ['10 × Axial hole ⌀5 through', '5 × Window', 'Face groove ⌀40–⌀80 × 4'])
    await expect(page.getByTestId('features').getByRole('button', { name: f }).first()).toBeVisible();
  await expect(page.getByTestId('phase-part')).toHaveAttribute('data-state', 'ready');
  await expect(page.locator('[data-testid^=element-o]').first()).toBeAttached();
});

test('a solid that this browser cannot read is read by the server', async ({ page }) => {
  // no kernel comes to the browser, as where its memory is not enough
  await page.route('**/solid-kernel.wasm', (route) => route.abort());
  const asked = page.waitForResponse((r) => r.url().endsWith('/api/imports'));
  await fromSolid(page, 'LM-260', 'S-261');
  await expect(page.getByTestId('features').getByRole('button', { name: '5 × Window' }).first()).toBeVisible();
  expect((await asked).status()).toBe(202);
  // its 3D picture came along
  await page.getByRole('button', { name: '3D' }).click();
  await expect(page.getByTestId('scene')).toBeVisible();
});

test('a feature lights up metal; it can be named, marked, ignored, split and taken back', async ({ page }) => {
  await fromSolid(page, 'LM-212', 'F-1');
  const list = page.getByTestId('features');
  await list.getByRole('button', { name: 'Inside groove 4 wide' }).first().click();
  const card = page.getByTestId('feature-card');
  await card.getByLabel('Name of the feature').fill('Seal groove');
  await card.getByLabel('Name of the feature').press('Enter');
  await card.getByLabel('Tolerance', { exact: true }).fill('H9');
  await card.getByLabel('Tolerance', { exact: true }).press('Enter');
  await expect(list.getByRole('button', { name: 'Seal groove' }).first()).toBeVisible();
  await card.getByRole('button', { name: 'Split' }).click();
  await expect(list.getByRole('button', { name: 'Seal groove' })).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(list.getByRole('button', { name: 'Seal groove' }).first()).toBeVisible();
  await list.getByRole('button', { name: 'Ignore Seal groove' }).click();
  await saved(page);
  await page.reload();
  await expect(page.getByTestId('features').getByRole('button', { name: 'Take Seal groove up again' })).toBeVisible();
});

test('revision B: the report says kept, moved, lost; both revisions can be drawn', async ({ page }) => {
  await fromSolid(page, 'LM-101', 'R-1', 'LM-101 Whorl pulley');
  await computed(page);
  await page.getByTestId('part-input').setInputFiles('demo/solids/LM-101-B.step');
  const report = page.getByTestId('revision-report');
  await expect(report).toContainText('10 kept · 11 moved · 2 lost');
  await expect(report).toContainText('✕ lost Groove 5 wide, ⌀55');
  await expect(page.getByTestId('brought')).toBeAttached();
  await page.getByRole('button', { name: 'Take revision B' }).click();
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('B');
  await page.getByRole('switch', { name: 'Show revision A' }).click();
  await expect(page.getByTestId('previous')).toBeAttached();
  await expect(page.getByTestId('features')).toContainText('Groove 7 wide, ⌀51');
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('Revision', { exact: true })).toHaveValue('A');
});

test('a solid is read again with other choices: plain cut, turned round, zero on a face', async ({ page }) => {
  await fromSolid(page, 'LM-155', 'C-1');
  await page.getByRole('button', { name: 'LM-155.step' }).click();
  await expect(page.getByText('How it is read')).toBeVisible();
  await page.getByRole('button', { name: 'Turn round' }).click();
  await expect(page.getByTestId('bring-in').getByText('(0, 0, -1)')).toBeVisible();
  await page.getByLabel('Front at Z').fill('2.5');
  await page.getByLabel('Front at Z').press('Enter');
  await page.getByRole('button', { name: 'Take this part' }).click();
  await expect(page.getByLabel('outer start Z')).toHaveValue('2.5');
  await saved(page);
});

test('rows take formulas of named dimensions, and grooves by standard', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-118', 'Formulas')}?phase=part`);
  await computed(page);
  await page.getByRole('button', { name: 'Name a dimension' }).click();
  await page.getByLabel('Name of dimension 1').fill('bore');
  await page.getByLabel('Name of dimension 1').press('Enter');
  await page.getByLabel('Formula of bore').fill('16');
  await page.getByLabel('Formula of bore').press('Enter');
  const field = page.getByLabel('outer row 2 diameter');
  await field.fill('2*bore+2');
  await field.press('Enter');
  await field.blur();
  await expect(field).toHaveValue('34');
  await page.getByLabel('Formula of bore').fill('15');
  await page.getByLabel('Formula of bore').press('Enter');
  await expect(field).toHaveValue('32');
  await field.fill('nonsense+1');
  await field.press('Enter');
  await expect(page.getByText('there is no dimension “nonsense”')).toBeVisible();
  await field.press('Escape');
  await page.getByLabel('outer row 5 Z').click();
  await page.getByRole('combobox', { name: 'Cut a groove' }).click();
  await page.getByRole('option', { name: 'V groove' }).click();
  await expect(
    page
      .getByTestId('features')
      .getByRole('button', { name: /^Groove/ })
      .first(),
  ).toBeVisible();
  await saved(page);
});

test('a point is dragged with snapping; typing and dragging are one', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-118', 'Drag')}?phase=part`);
  await computed(page);
  const grip = page.getByRole('button', { name: 'End of outer row 2', exact: true });
  const box = await grip.boundingBox();
  if (!box) throw new Error('no grip');
  const before = await page.getByLabel('outer row 2 Z').inputValue();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 - 30, box.y + box.height / 2, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByLabel('outer row 2 Z')).not.toHaveValue(before);
  await page.keyboard.press('Control+z');
  await expect(page.getByLabel('outer row 2 Z')).toHaveValue(before);
});

test('measuring: two picks in either order, and a value into a field', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-155', 'Measure')}?phase=part`);
  await computed(page);
  await page.keyboard.press('m');
  const middle = async (id: string): Promise<[number, number]> => {
    const b = await page.getByTestId(`element-${id}`).boundingBox();
    if (!b) throw new Error(`no ${id}`);
    return [b.x + b.width / 2, b.y + b.height / 2];
  };
  const ids = (
    await page
      .locator('[data-testid^=element-o]')
      .evaluateAll((l) => l.map((e) => (e as HTMLElement).dataset.testid ?? ''))
  ).map((t) => t.replace('element-', ''));
  const [a, b] = [await middle(ids[0]), await middle(ids[ids.length - 1])];
  await page.mouse.click(...a);
  await page.mouse.click(...b);
  await expect(page.getByTestId('measure')).toContainText('ΔZ 7.2');
  await page.mouse.click(...b);
  await page.mouse.click(...a);
  await expect(page.getByTestId('measure')).toContainText('ΔZ 7.2');
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('measure')).toHaveCount(0);
  // a field asks for a value from the drawing
  await page.getByLabel('outer start Z').click();
  await page.getByRole('button', { name: 'Pick from the drawing' }).click();
  await page.mouse.click(...b);
  await page.getByTestId('measure').getByRole('button', { name: /^Z / }).click();
  await expect(page.getByLabel('outer start Z')).toHaveValue('-7.2');
});

test('the 3D view draws the part, looks from its directions and answers to a click', async ({ page }) => {
  await fromSolid(page, 'LM-212', 'V-1');
  await page.getByRole('button', { name: 'Both', exact: true }).click();
  const scene = page.getByTestId('scene');
  await expect(scene.locator('canvas')).toBeVisible();
  await page.waitForFunction(() => {
    const stage = (window as unknown as { livelyStage?: { part: { children: unknown[] } } }).livelyStage;
    return stage !== undefined && stage.part.children.length > 0;
  });
  for (const d of ['front', 'side', 'top', 'back', 'corner'])
    await scene.getByRole('button', { name: d, exact: true }).click();
  // square at a hole at 60°, and at the next one: away from the axis there, the part's axis running to the right
  await page
    .getByText(/Radial hole/)
    .first()
    .click();
  for (const angle of [0, 60]) {
    await page.getByRole('button', { name: `Look square at ${angle}°` }).click();
    const seen = await page.evaluate(() => {
      type Vector = { x: number; y: number; z: number };
      const { camera, controls } = (
        window as unknown as { livelyStage: { camera: { position: Vector }; controls: { target: Vector } } }
      ).livelyStage;
      return [camera.position.y - controls.target.y, camera.position.z - controls.target.z];
    });
    expect((Math.atan2(seen[1], seen[0]) * 180) / Math.PI).toBeCloseTo(angle, 3);
  }
  await scene.getByRole('button', { name: 'cut open' }).click();
  await scene.getByRole('button', { name: 'side', exact: true }).click();
  await page.keyboard.press('m');
  const box = await scene.locator('canvas').boundingBox();
  if (!box) throw new Error('no canvas');
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2 + 30);
  await expect(page.getByTestId('measure')).toContainText('⌀');
  await page.keyboard.press('Escape');
  await phase(page, 'plan');
  await expect(scene).toBeVisible();
});

test('DXF with layers and a mesh are looked at before they are taken', async ({ page }) => {
  await page.goto(`/jobs/${await copyJob(page, 'LM-155', 'Looked at')}?phase=part`);
  await computed(page);
  const l = (a: number[], layer: string) => ['0', 'LINE', '8', layer, '10', a[0], '20', a[1], '11', a[2], '21', a[3]];
  const text = [
    '0',
    'SECTION',
    '2',
    'ENTITIES',
    ...l([0, 0, 0, 8], 'PART'),
    ...l([0, 8, -12, 8], 'PART'),
    ...l([-12, 8, -12, 0], 'PART'),
    ...l([1, 0, 1, 9], 'RAW'),
    ...l([1, 9, -14, 9], 'RAW'),
    ...l([-14, 9, -14, 0], 'RAW'),
    '0',
    'ENDSEC',
    '0',
    'EOF',
  ].join('\n');
  await page
    .getByTestId('part-input')
    .setInputFiles({ name: 'two.dxf', mimeType: 'text/plain', buffer: Buffer.from(text) });
  await expect(page.getByRole('switch', { name: 'Layer RAW' })).toBeVisible();
  await page.getByRole('switch', { name: 'Layer RAW' }).click();
  await expect(page.getByText('3 outer, 0 bore elements')).toBeVisible();
  await page.getByRole('combobox', { name: 'Take it as' }).click();
  await page.getByRole('option', { name: /another part/ }).click();
  await page.getByRole('button', { name: 'Take this part' }).click();
  await expect(page.getByLabel('outer row 1 diameter')).toHaveValue('16');
  await page
    .getByTestId('part-input')
    .setInputFiles({ name: 'huge.stl', mimeType: 'model/stl', buffer: Buffer.alloc(40 * 1048576) });
  await expect(page.getByTestId('bring-in').getByRole('alert')).toContainText('40.0 MB; up to 32 MB');
});
