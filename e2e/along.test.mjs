// Sheets taken along: a stop is worked without a connection, marks are sent later with their own time, contradictions are shown.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open, send } from './support.mjs';

test('a stop is worked without a connection, and nothing of it is lost', { timeout: 240000 }, async () => {
    const mine = await open({ width: 390, height: 844 });
    const theirs = await open();
    try {
        await login(mine.page, 'technician');
        await mine.page.goto(`${base}/j/museum/bench?sel=devices/p-3`);
        await mine.page.click('a:has-text("Offline run sheets")');
        const page = mine.page;
        await page.waitForSelector('#take:not([disabled])');
        await page.click('#take');
        await page.waitForSelector('#take:has-text("Saved in this browser")');
        const target = await page.locator('#along button').evaluateAll((all) => Math.min(...all.filter((one) => one.offsetParent).map((one) => one.getBoundingClientRect().height)));
        assert.ok(target >= 44, `a thumb finds it: ${target} px`);

        await page.context().setOffline(true);
        await page.reload();
        const step = (code) => page.locator(`li[data-device="p-3"][data-step="${code}"]`);
        await step('unpack').locator('button[data-state=done]').click();
        await step('hook-up').locator('button[data-state=failed]').click();
        assert.equal(await page.locator('li.waits').count(), 1, 'a failure wants its reason');
        await step('hook-up').locator('input').fill('The cable is short.');
        await step('hook-up').locator('button[data-state=failed]').click();
        assert.match(await page.textContent('#unsent'), /Marks to be sent: 2/);
        await page.reload();
        assert.match(await page.textContent('#unsent'), /Marks to be sent: 2/, 'they outlive a reload');

        // Meanwhile the other technician marks one of them.
        await login(theirs.page, 'lead');
        await theirs.page.goto(`${base}/j/museum/bench?sel=devices/p-3`);
        await send(theirs.page, theirs.page.locator('#step-unpack button:has-text("Done")').first());

        await page.context().setOffline(false);
        await page.waitForSelector('li.contradicts');
        assert.match(await step('unpack').locator('.mine').textContent(), /marked it done at/);
        assert.match(await page.textContent('#unsent'), /Marks to be sent: 1/);
        assert.equal(await step('unpack').locator('[data-decide=drop]').isVisible(), false);
        await step('unpack').locator('[data-decide=theirs]').click();
        await page.waitForSelector('#unsent:has-text("All marks are sent")');

        // A mark that is refused for another reason is nobody else's to decide: it is made again with the reason, or discarded.
        const refusal = (route) => (route.request().method() === 'POST'
            ? route.fulfill({ json: { answers: JSON.parse(new URLSearchParams(route.request().postData()).get('marks')).map((one) => ({ id: one.id, why: 'Write why.', contradicts: false })) } })
            : route.continue());
        await page.route('**/bench/along*', refusal);
        await step('hook-up').locator('button[data-state=done]').click();
        await page.waitForSelector('li.contradicts');
        assert.equal(await step('hook-up').locator('[data-decide=mine]').isVisible(), false);
        await step('hook-up').locator('[data-decide=drop]').click();
        await page.waitForSelector('#unsent:has-text("All marks are sent")');
        await page.unroute('**/bench/along*', refusal);
        await theirs.page.goto(`${base}/j/museum/bench?sel=devices/p-3`);
        assert.match(await theirs.page.textContent('#step-hook-up'), /The cable is short/);
        assert.deepEqual(theirs.complaints, []);
        assert.deepEqual(mine.complaints.filter((one) => !/ERR_INTERNET_DISCONNECTED|ERR_FAILED|Failed to fetch/.test(one)), []);
    } finally {
        await mine.browser.close();
        await theirs.browser.close();
    }
});

test('who takes a shared tablet next finds nothing of who left', { timeout: 240000 }, async () => {
    const tablet = await open({ width: 820, height: 1180 });
    const page = tablet.page;
    const step = (code) => page.locator(`li[data-device="p-2"][data-step="${code}"]`).first();
    try {
        await login(page, 'technician');
        await page.goto(`${base}/j/museum/bench?sel=devices/p-2`);
        await page.click('a:has-text("Offline run sheets")');
        await page.waitForSelector('#take:not([disabled])');
        await page.click('#take');
        await page.waitForSelector('#take:has-text("Saved in this browser")');
        assert.deepEqual(await page.evaluate('caches.keys()'), ['along-1']);
        const address = page.url();

        // The server is out of reach for marks while the technician leaves.
        await page.route('**/bench/along', (route) => (route.request().method() === 'POST' ? route.abort() : route.continue()));
        await step('unpack').locator('button[data-state=done]').click();
        assert.match(await page.textContent('#unsent'), /Marks to be sent: 1/);
        await page.goto(`${base}/j/museum/bench`);
        await page.click('form[action="/logout"] button:has-text("log out")');
        assert.match(await page.textContent('.leaving'), /Marks not sent yet: 1/);
        await page.click('.leaving button:has-text("keep them for me")');
        await page.waitForSelector('input[name=_username]');
        assert.deepEqual(await page.evaluate('caches.keys()'), []);

        // The next one sees none of them, and sends none.
        await page.unroute('**/bench/along');
        await login(page, 'lead');
        await page.goto(address);
        await page.waitForSelector('#unsent:has-text("All marks are sent")');
        assert.equal(await page.locator('li.waits').count(), 0);
        await page.waitForTimeout(6000);
        await page.goto(`${base}/j/museum/bench?sel=devices/p-2`);
        assert.doesNotMatch(await page.textContent('#step-unpack'), /Lindqvist/);
        await page.click('form[action="/logout"] button:has-text("log out")');
        await page.waitForSelector('input[name=_username]');

        // Whose they are sends them.
        await login(page, 'technician');
        await page.goto(address);
        await page.waitForSelector('li[data-device="p-2"][data-step="unpack"].is-done');
        await page.goto(`${base}/j/museum/bench?sel=devices/p-2`);
        assert.match(await page.textContent('#step-unpack'), /Jonas Aydin/);
        assert.deepEqual(tablet.complaints.filter((one) => !/ERR_FAILED|Failed to fetch/.test(one)), []);
    } finally {
        await tablet.browser.close();
    }
});
