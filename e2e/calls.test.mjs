// Calls: asked key by key, a route that hides another found and cured, what comes in by the hour, one mistake explained and mended.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, cell, login, open, send } from './support.mjs';

const calls = `${base}/j/nordmole/services/calls`;

test('who, what, when: asked key by key, and each rule says why', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'technician');
        await page.goto(calls);
        await page.selectOption('#c-from', '2101');
        const asked = async (digits, text) => {
            await page.fill('#c-digits', '');
            await page.locator('#c-digits').pressSequentially(digits, { delay: 240 });
            await page.waitForFunction((wanted) => document.querySelector('#asked')?.textContent.includes(wanted), text);
        };
        // Each answer comes later than the next key.
        await page.route('**/services/calls?*', async (route) => {
            await new Promise((later) => setTimeout(later, 600));
            await route.continue().catch(() => null);
        });
        await asked('02', 'wants more digits than 02');
        await asked('021234567', '21234567 goes out by Provider, with the caller id +4721000000');
        assert.match(await page.textContent('#asked .rung.taken'), /At home/);
        assert.match(await page.textContent('#asked'), /PBX-01 announces 10\.64\.20\.10 for sound, and outside it is 203\.0\.113\.2/);
        await asked('00047', 'Abroad is not for 2101');
        await asked('112', 'an emergency number is never dialled as a test');
        assert.match(await page.textContent('#asked .rung.taken'), /Emergency/);
        await page.selectOption('#c-from', 'trunks/provider');
        await page.fill('#c-at', '2026-03-02T10:00');
        await asked('4721000000', 'a menu answers');
        await page.fill('#c-at', '2026-03-02T22:00');
        await page.waitForFunction(() => document.querySelector('#asked')?.textContent.includes('Harbour office only'));
        assert.match(await page.textContent('#asked .curebox'), /PH-03/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a route is added, hides nothing and is hidden, is moved by the cure; the announced address is mended', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(calls);
        await page.click('summary:has-text("Add route")');
        const form = page.locator('form[action$="/add/callRoutes"]');
        await form.locator('input[name="row[name]"]').fill('To the islands');
        await form.locator('input[name="row[position]"]').fill('60');
        await form.locator('input[name="row[map]"]').fill('_02X.');
        await form.locator('select[name="row[trunk]"]').selectOption({ label: 'Provider' });
        await send(page, form.locator('button'));
        assert.match(await page.textContent('form[action$="/add/callRoutes"] .wrong'), /is not a digit map/);
        assert.equal(await page.locator('form[action$="/add/callRoutes"] input[name="row[name]"]').inputValue(), 'To the islands');
        await form.locator('input[name="row[map]"]').fill('021xxxxxx');
        await send(page, form.locator('button'));
        await page.goto(calls);
        const aside = page.locator('.finding[data-code="route-never-reached"]:has-text("To the islands")');
        assert.match(await aside.textContent(), /At home \(0\[2-9\]xxxxxxx\)/);
        await send(page, aside.locator('button').first());
        assert.match(await page.textContent('.ladder'), /40\s*To the islands/);
        for (let taken = 0; taken < 2; taken++) { await send(page, page.locator('#undo button').first()); }

        const deaf = page.locator('.finding[data-code="trunk-without-sound"]');
        await send(page, deaf.locator('button').first());
        await page.goto(`${calls}?from=2101&digits=021234567`);
        assert.match(await page.textContent('#asked'), /Sound goes both ways/);
        await send(page, page.locator('#undo button').first());
        await page.goto(`${calls}?sel=extensions/x2102#open`);
        await cell(page, 'Forward always to', '2103');
        await page.goto(`${calls}?from=2101&digits=2102`);
        assert.match(await page.textContent('#asked'), /2102 is led on to 2103, always/);
        await send(page, page.locator('#undo button').first());
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
