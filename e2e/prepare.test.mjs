// One device in hand: three fields and one press lead from the start page to the values to type.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open } from './support.mjs';

test('one device gets its run sheet with three fields and one press, and is marked by keys', { timeout: 120000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/`);
        await page.fill('#prepare [name=kind]', 'PTZ');
        await page.fill('#prepare [name=label]', 'NM-7A01');
        await page.fill('#prepare [name=network]', '10.77.3.23/24');
        await page.keyboard.press('Enter');
        await page.waitForURL(/loose-work\/bench\?sel=devices/);
        const sheet = await page.textContent('main');
        assert.match(sheet, /10\.77\.3\.23/);
        assert.match(sheet, /NM-7A01/);
        /* One key marks the next step; the one after it is in view and has the focus. */
        const codes = await page.locator('#sheet > ol > li').evaluateAll((all) => all.map((one) => one.id));
        await page.keyboard.press('d');
        await page.waitForSelector(`#${codes[0]}.is-done`);
        await page.waitForSelector(`#${codes[1]}.next`);
        await page.waitForFunction((id) => document.activeElement?.closest('li')?.id === id, codes[1]);
        assert.ok(await page.locator(`#${codes[1]}`).evaluate((one) => one.getBoundingClientRect().top < document.documentElement.clientHeight), 'it is in view');
        /* Several steps at once. */
        await page.click(`#${codes[2]} button:has-text("Done up to here")`);
        await page.waitForSelector(`#${codes[2]}.is-done`);
        await page.waitForSelector(`#${codes[3]}.next`);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
