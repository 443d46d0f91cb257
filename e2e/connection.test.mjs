// Requests that fail: no connection, an expired session, a form sent twice, a preview that answers a form.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { base, console_, login, open } from './support.mjs';

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

        // Somebody else at a shared tablet: what the first user typed is not sent as theirs.
        await page.context().clearCookies();
        await room(page).fill('Not theirs');
        await room(page).press('Tab');
        await bar.getByText('Your session has expired').waitFor();
        const other = await page.context().newPage();
        await login(other, 'technician');
        await other.close();
        await bar.getByText('Another user has logged in').waitFor();
        assert.equal(await room(page).inputValue(), 'Not theirs', 'nothing is lost');
        await page.context().clearCookies();
        await login(page, 'lead');
        await page.goto(`${base}/j/nordmole/devices`);
        assert.equal(await room(page).inputValue(), 'Expired room');

        // A refusal keeps the page and gives its reason.
        await page.evaluate(() => { document.querySelectorAll('input[name="_token"]').forEach((input) => { input.value = 'old'; }); });
        await room(page).fill('Old page');
        await room(page).press('Tab');
        await bar.getByText('The page is too old to write from it').waitFor();
        assert.equal(await room(page).inputValue(), 'Old page');
        await page.goto(`${base}/j/nordmole/devices`);

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

test('two requests with one form at the same time add one record', { timeout: 120000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/j/nordmole/networks`);
        const answers = await page.evaluate(async () => {
            const form = document.querySelector('form[action$="/add/segments"]');
            form.querySelector('[name="row[name]"]').value = 'Twice';
            form.querySelector('[name="row[network]"]').value = '10.64.99.0/24';
            const send = async () => (await fetch(form.action, { method: 'POST', body: new URLSearchParams(new window.FormData(form)) })).url;
            return Promise.all([send(), send(), send()]);
        });
        assert.equal(new Set(answers).size, 1, answers.join(' '));
        await page.goto(`${base}/j/nordmole/networks`);
        assert.equal(await page.locator('svg a:has-text("Twice"), main a:text-is("Twice")').count() > 0, true);
        const names = JSON.parse(console_('vorhut:export', 'nordmole')).segments.filter((one) => one.name === 'Twice');
        assert.equal(names.length, 1);
        await page.locator('#undo button').first().click();
        await page.waitForLoadState('networkidle');
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
