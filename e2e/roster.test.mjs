// The roster as a spreadsheet: keys, a block pasted and taken back, filling down, one value for many, a scanner.
import { test } from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open, send } from './support.mjs';

const at = (page, label) => page.getByLabel(label, { exact: true });

/** Waits until the page shows a value: an answer is there before it is drawn. */
async function holds(page, label, value) {
    await page.waitForFunction(
        ([name, wanted]) => document.querySelector(`[aria-label="${name}"]`).value === wanted,
        [label, value],
        { timeout: 20000 },
    );
}

async function pasted(page, text) {
    const answered = page.waitForResponse((response) => response.request().method() === 'POST' && response.url().endsWith('/block'));
    await page.evaluate((given) => {
        const data = new window.DataTransfer();
        data.setData('text/plain', given);
        document.activeElement.dispatchEvent(new window.ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
    }, text);
    await answered;
    await page.waitForLoadState('networkidle');
}

test('the roster is worked by keyboard, in blocks, and every block is one change', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${base}/j/nordmole/devices`);
        await at(page, 'Room of CAM-01').focus();
        await page.keyboard.press('ArrowDown');
        const under = await page.evaluate(() => document.activeElement.getAttribute('aria-label'));
        assert.match(under, /^Room of /);
        assert.notEqual(under, 'Room of CAM-01');
        await page.keyboard.press('ArrowUp');
        await page.keyboard.press('ArrowLeft');
        assert.equal(await page.evaluate(() => document.activeElement.getAttribute('aria-label')), 'Segment of CAM-01');
        await page.keyboard.press('ArrowLeft');
        assert.equal(await page.evaluate(() => document.activeElement.getAttribute('aria-label')), 'MAC of CAM-01');

        // A scanner types and presses Enter: the next row's field has the focus.
        await page.keyboard.press('ArrowDown');
        assert.match(await page.evaluate(() => document.activeElement.getAttribute('aria-label')), /^MAC of /);

        const before = { one: await at(page, 'Room of CAM-01').inputValue(), two: await at(page, under).inputValue() };
        await at(page, 'Room of CAM-01').focus();
        await pasted(page, 'Hall, truss 1\nHall, truss 2');
        await holds(page, 'Room of CAM-01', 'Hall, truss 1');
        await holds(page, under, 'Hall, truss 2');
        assert.match(await page.textContent('.history'), /2 cells changed at once/);
        await send(page, page.locator('#undo button').first());
        await holds(page, 'Room of CAM-01', before.one); // one change, taken back as one
        await holds(page, under, before.two);

        await at(page, 'MAC of CAM-01').focus();
        await pasted(page, 'not a MAC\t\nneither');
        await page.waitForSelector('.caution[role=alert]');
        assert.match(await page.textContent('.caution[role=alert]'), /The block was not saved/);
        assert.match(await page.textContent('.caution[role=alert]'), /CAM-01/);

        await at(page, 'Room of CAM-01').focus();
        await page.keyboard.press('Shift+ArrowDown');
        assert.equal(await page.locator('td.taken').count(), 2);
        const filled = page.waitForResponse((response) => response.url().endsWith('/block'));
        await page.keyboard.press('Control+d');
        await filled;
        await page.waitForLoadState('networkidle');
        await holds(page, under, before.one);
        await send(page, page.locator('#undo button').first());
        await holds(page, under, before.two);

        await page.locator('#many summary').click();
        await page.selectOption('#many-field', 'timeServer');
        await page.locator('#many input[name="value"]').fill('192.0.2.123');
        await send(page, page.locator('#many button:has-text("Preview")'));
        await page.waitForSelector('#many button:has-text("Change these")');
        assert.match(await page.textContent('#many'), /→\s+192\.0\.2\.123/);
        await send(page, page.locator('#many button:has-text("Change these")'));
        await page.waitForSelector('.said:has-text("changed at once")');
        await send(page, page.locator('#undo button').first());

        const labels = await page.request.get(`${base}/j/nordmole/devices/labels.pdf?sheet=48x25`);
        assert.equal(labels.headers()['content-type'], 'application/pdf');
        assert.match((await labels.body()).subarray(0, 8).toString('latin1'), /^%PDF-1/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
