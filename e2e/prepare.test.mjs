// One device in hand: three fields and one press lead from the start page to the values to type.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open } from './support.mjs';

test('one device gets its run sheet with three fields and one press', { timeout: 120000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/`);
        await page.fill('#prepare [name=kind]', 'IP phone');
        await page.fill('#prepare [name=label]', '02-00-5E-00-7A-01');
        await page.fill('#prepare [name=network]', '10.77.3.23/24');
        await page.keyboard.press('Enter');
        await page.waitForURL(/loose-work\/bench\?sel=devices/);
        const sheet = await page.textContent('main');
        assert.match(sheet, /10\.77\.3\.23/);
        assert.match(sheet, /02-00-5E-00-7A-01/);
        assert.ok(await page.locator('[id^=step-] button:has-text("Done")').count() > 0, 'its steps can be marked');
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
