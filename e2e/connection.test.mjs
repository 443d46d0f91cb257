// Requests that fail: no connection, an expired session, a form sent twice, a preview that answers a form.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open } from './support.mjs';

const room = (page) => page.getByLabel('Room of CAM-01', { exact: true });
const isEdit = (response) => response.request().method() === 'POST' && response.url().endsWith('/edit');
const isSaved = (page, value) => page.waitForFunction(
    (wanted) => document.querySelector('#connection').hidden && document.querySelector('[aria-label="Room of CAM-01"]').defaultValue === wanted,
    value,
    { timeout: 20000 },
);

test('a page survives a lost connection and an expired session, and sends what was not saved', { timeout: 240000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/j/nordmole/devices`);
        const bar = page.locator('#connection');
        const first = await room(page).inputValue();

        await page.context().setOffline(true);
        await room(page).fill('Offline room');
        await room(page).press('Tab');
        await bar.getByText('No connection to the server').waitFor();
        assert.equal(await room(page).inputValue(), 'Offline room');
        await page.context().setOffline(false);
        await isSaved(page, 'Offline room');

        await page.context().clearCookies();
        await room(page).fill('Expired room');
        await room(page).press('Tab');
        await bar.getByText('Your session has expired').waitFor();
        assert.equal(await room(page).inputValue(), 'Expired room');
        assert.ok(await page.locator('main').isVisible());
        const tab = await page.context().newPage();
        await login(tab, 'lead');
        await tab.close();
        await isSaved(page, 'Expired room');

        // Enter sends the form, and so does leaving the field: it is one change, and no conflict with oneself.
        await room(page).fill(first);
        const saved = page.waitForResponse(isEdit);
        await room(page).press('Enter');
        await saved;
        await page.waitForLoadState('networkidle');
        await isSaved(page, first);
        assert.doesNotMatch(await page.textContent('main'), /meanwhile/);
    } finally { await browser.close(); }
});

test('a preview that answers a form stays while others work', { timeout: 120000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/j/nordmole/networks?sel=segments/voice`);
        await page.locator('button[name="ask"]:visible').first().click();
        await page.locator('h1', { hasText: 'What if' }).waitFor();
        await page.waitForTimeout(4000);
        assert.ok(await page.locator('main').isVisible());
        assert.equal(await page.locator('#pulse').count(), 0);
        assert.ok(await page.locator('#connection').isHidden());
        assert.deepEqual(complaints, []);
    } finally { await browser.close(); }
});
