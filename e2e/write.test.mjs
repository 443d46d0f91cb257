// Settings over the network, many devices in one go, of which one lets nobody in.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, console_, login, open, until } from './support.mjs';

test('a batch goes on past the device that refuses', { timeout: 360000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'lead');
        const url = `${base}/j/nordmole/bench/write`;
        for (const tag of ['sw-01', 'ra-01', 'cam-01']) {
            await page.goto(`${base}/j/nordmole/devices?sel=devices/${tag}`);
            const written = page.waitForResponse((response) => response.url().endsWith('/edit'));
            const field = page.locator('#ledger [aria-label="Host name"]');
            await field.fill(`${tag}-new`);
            await field.press('Tab');
            await written;
            await page.waitForLoadState('networkidle');
        }
        console_('vorhut:lab', 'nordmole', '--fault', 'wrong-admin-password:RA-01');
        await page.waitForTimeout(2500);
        await page.goto(url);
        for (const tag of ['sw-01', 'ra-01', 'cam-01']) { await page.check(`#write-${tag}`); }
        await page.click('button:has-text("Write to selected devices")');
        const row = (tag) => page.locator(`#written li:has(strong:text-is("${tag}"))`).first();
        await until(page, url, async () => (await Promise.all(['SW-01', 'RA-01', 'CAM-01'].map((tag) => row(tag).textContent()))).every((text) => /ended|not done/.test(text)));
        assert.match(await row('RA-01').textContent(), /not done.*Nothing was written into RA-01.*refused every password/s);
        assert.match(await row('SW-01').textContent(), /ended/);
        assert.match(await row('CAM-01').textContent(), /ended/);
        // What was not taken is still there to do; what was, is seen.
        assert.equal(await page.locator('#write-ra-01').count(), 1);
        assert.equal(await page.locator('#write-cam-01').count(), 0);
        await page.goto(`${base}/j/nordmole/devices?sel=devices/cam-01`);
        assert.match(await page.textContent('#ledger'), /cam-01-new/);
    } finally {
        await browser.close();
    }
});
