// One hand free: keys, copying, the timer, the look; nothing is lost while others work.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open } from './support.mjs';

test('the stages by keys, and help', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'viewer');
        await page.goto(`${base}/j/museum/brief`);
        for (const [key, stage] of [['2', 'networks'], ['3', 'devices'], ['4', 'bench'], ['5', 'services'], ['6', 'proof'], ['7', 'handover'], ['1', 'brief']]) {
            await page.keyboard.press(key);
            await page.waitForURL(new RegExp(`/${stage}$`));
            await page.waitForSelector(`.stages a[aria-current=page][href$="/${stage}"]`);
        }
        assert.equal(await page.isVisible('#help'), false);
        await page.keyboard.press('?');
        assert.equal(await page.isVisible('#help'), true);
        await page.keyboard.press('Escape');
        assert.equal(await page.isVisible('#help'), false);
        await page.goBack();
        await page.waitForURL(/handover$/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a value is copied with one touch, a wait runs by the clock, the night stays', { timeout: 240000 }, async () => {
    const { browser, page } = await open({ width: 390, height: 844 });
    try {
        await login(page, 'technician');
        await page.context().grantPermissions(['clipboard-read', 'clipboard-write'], { origin: base });
        await page.goto(`${base}/j/nordmole/bench?sel=devices/cam-02`);
        await page.click('#step-reach button.copy >> nth=0');
        await page.waitForSelector('#step-reach button.copy[data-done]');
        assert.equal(await page.evaluate(() => navigator.clipboard.readText()), '192.168.1.100');
        await page.goto(`${base}/j/museum/bench?sel=devices/pbx-1`);
        await page.click('#step-unpack button:has-text("Done")');
        await page.waitForSelector('#step-hook-up .timer');
        assert.equal(await page.textContent('#step-hook-up .timer'), '3:00');
        await page.click('#step-hook-up button:has-text("start the wait")');
        await page.waitForFunction(() => /^2:5\d$/.test(document.querySelector('#step-hook-up .timer').textContent));
        await page.goto(`${base}/j/museum/bench?sel=devices/cam-1`);
        await page.goto(`${base}/j/museum/bench?sel=devices/pbx-1`);
        await page.waitForFunction(() => /^2:[45]\d$/.test(document.querySelector('#step-hook-up .timer').textContent), null);
        await page.reload();
        await page.waitForFunction(() => /^2:[345]\d$/.test(document.querySelector('#step-hook-up .timer').textContent), null);
        await page.click('#step-unpack button:has-text("undo")');
        const look = () => page.evaluate(() => document.documentElement.dataset.look);
        assert.equal(await look(), 'day');
        await page.click('button:has-text("day / night")');
        assert.equal(await look(), 'night');
        await page.reload();
        assert.equal(await look(), 'night', 'it holds over a reload');
    } finally {
        await browser.close();
    }
});

test('what one types is not swept away when somebody else changes the job', { timeout: 240000 }, async () => {
    const one = await open();
    const two = await open();
    try {
        await login(one.page, 'lead');
        await login(two.page, 'technician');
        await one.page.goto(`${base}/j/museum/devices`);
        await one.page.fill('#table', 'CAM-7\tPTZ camera');
        await two.page.goto(`${base}/j/museum/bench?sel=devices/ln-1`);
        await two.page.click('#step-unpack button:has-text("Done")');
        await two.page.waitForSelector('#step-unpack.is-done');
        await one.page.waitForTimeout(3500);
        assert.equal(await one.page.inputValue('#table'), 'CAM-7\tPTZ camera');
        await two.page.click('#step-unpack button:has-text("undo")');
    } finally {
        await one.browser.close();
        await two.browser.close();
    }
});

test('a viewer finds no button that would change anything', { timeout: 240000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'viewer');
        for (const view of ['brief', 'networks?sel=segments/quay', 'devices?sel=devices/cam-01', 'bench?sel=devices/cam-02', 'services', 'proof?sel=tests/reach%3Atech%3Era-01%3A80%2Ftcp', 'handover']) {
            await page.goto(`${base}/j/nordmole/${view}`);
            const forms = await page.locator('form[method=post]').evaluateAll((all) => all.map((form) => form.getAttribute('action')));
            assert.deepEqual(forms.filter((action) => action !== '/logout'), [], view);
        }
    } finally {
        await browser.close();
    }
});
