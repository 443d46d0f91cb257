// What goes over cables: streams until the wall, calls that the lab really makes, a patch with an overlap, an evening of light.
import test from 'node:test';
import assert from 'node:assert/strict';
import { base, login, open, send, until } from './support.mjs';

/** The speed of the cable that is open. */
async function speed(page, value) {
    const field = page.locator('#open input[aria-label="Speed (Mbit/s)"]');
    const written = page.waitForResponse((response) => response.request().method() === 'POST' && response.url().endsWith('/edit'));
    await field.fill(value);
    await field.press('Tab');
    await written;
    await page.waitForLoadState('networkidle');
}

const services = `${base}/j/nordmole/services`;

test('one more and one more until the wall, then a faster link', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${services}/links`);
        const full = page.locator('.linkbar:has-text("SW-02 → SW-01")');
        assert.match(await full.textContent(), /77\.7\s+of\s+75\s+Mbit\/s\s+2\.7 over the limit/);
        await page.selectOption('#l-more', { label: 'Inspection, north' });
        await page.fill('#l-times', '2');
        await page.click('form:has(#l-more) button');
        await page.waitForURL(/times=2/);
        assert.match(await full.textContent(), /overloaded/);
        assert.match(await page.textContent('main'), /a calculation, nothing is saved/);
        await page.goto(`${services}/links?sel=cables/customs`);
        await speed(page, '1000');
        await page.goto(`${services}/links?more=bay-north&times=40`);
        assert.match(await full.textContent(), /of\s+750\s+Mbit\/s/);
        assert.doesNotMatch(await full.textContent(), /overloaded/);
        await page.goto(`${services}/links?sel=cables/customs`);
        await speed(page, 'fast');
        await page.waitForSelector('#open .wrong');
        assert.match(await page.textContent('#open .wrong'), /number/);
        await send(page, page.locator('#undo button').first());
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('the lab makes the calls of the plan, and a mistake in them is explained', { timeout: 300000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'technician');
        await page.goto(`${services}/calls`);
        await send(page, page.locator('button:has-text("Make the calls in the lab")'));
        const line = (text) => page.locator(`tr:has-text("${text}")`);
        await until(page, `${services}/calls`, async () => /failed/.test(await line('through At home').textContent())
            && /passed/.test(await line('the key 1 leads to 2300').textContent()), 200);
        const home = await line('through At home').textContent();
        assert.match(home, /PBX-01 announces 10\.64\.20\.10 for sound/, 'foreseen');
        assert.match(home, /20000000 speaks; .*nothing heard here/s, 'and so it was');
        assert.match(await line('the key 3 leads to 2901').textContent(), /not run/, 'what is not plugged in is no fault');
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('an overlap in a universe is mended, and an evening is gone through', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${services}/light`);
        assert.match(await page.textContent('#universe-1'), /1 overlap/);
        await send(page, page.locator('.finding[data-code="patch-overlap"] button').first());
        await page.goto(`${services}/light`);
        assert.doesNotMatch(await page.textContent('#universe-1'), /overlap/);
        assert.equal(await page.getByLabel('Start address of FT-02').inputValue(), '13');
        await page.fill('#l-events', '10 key 1\n20 network on\n30 network off\n40 hold 2');
        await page.click('form:has(#l-events) button');
        await page.waitForSelector('.looks li');
        assert.deepEqual((await page.locator('.looks li strong').allTextContents()), ['dark', 'House', 'network', 'House', 'House']);
        assert.match(await page.textContent('.looks li:last-child'), /Holding key 2 does nothing: the cable of the desk is not in/);
        await page.fill('#l-events', 'soon');
        await page.click('form:has(#l-events) button');
        await page.waitForSelector('form:has(#l-events) .wrong');
        assert.equal(await page.inputValue('#l-events'), 'soon');
        await send(page, page.locator('#undo button').first());
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a channel that is patched twice is mended, and where it goes is seen', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${services}/sound`);
        assert.match(await page.textContent('#patch ~ .scroll table'), /CC-01 1-8 → FX-S1 1-8 → CC-01 17-24/);
        assert.equal(await page.locator('.cords .plate').count(), 3);
        await page.click('summary:has-text("Add patch")');
        const form = page.locator('form:has(button:has-text("Add patch"))');
        for (const [name, value] of Object.entries({ name: 'Choir', fromChannel: '9', toChannel: '7', count: '2' })) {
            await form.locator(`[name="row[${name}]"]`).fill(value);
        }
        await form.locator('[name="row[from]"]').selectOption({ label: 'CC-01' });
        await form.locator('[name="row[to]"]').selectOption({ label: 'FX-S1' });
        await send(page, form.locator('button'));
        await page.goto(`${services}/sound`);
        assert.match(await page.textContent('main'), /7-8 of FX-S1 has several sources/);
        assert.ok(await page.locator('.finding[data-code="sound-patched-twice"]:has-text("CC-01 7-8 Voices, CC-01 9-10 Choir")').count() > 0);
        await page.click('a:has-text("CC-01 9-10 Choir")');
        await page.waitForSelector('#open');
        const field = page.locator('#open input[aria-label="First destination channel"]');
        const written = page.waitForResponse((response) => response.request().method() === 'POST' && response.url().endsWith('/edit'));
        await field.fill('9');
        await field.press('Tab');
        await written;
        await page.goto(`${services}/sound`);
        assert.doesNotMatch(await page.textContent('main'), /has several sources/);
        assert.match(await page.textContent('main'), /9-10 of FX-S1 not routed to an output/);
        assert.equal(await page.locator('.cords .loose').count(), 1);
        await page.locator('tr:has-text("Choir") a').first().click();
        await page.waitForSelector('#open');
        await send(page, page.locator('#open button:has-text("remove")'));
        await page.goto(`${services}/sound`);
        assert.equal(await page.locator('.cords .loose').count(), 0);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('a push to another port than the far end has is led there', { timeout: 240000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${services}/streams`);
        assert.match(await page.textContent('tr:has-text("srt://10.64.50.46")'), /ENC-02.*PC-01 9000/s);
        await page.goto(`${base}/j/nordmole/devices?sel=devices/pc-01`);
        const field = page.locator('input[aria-label*="SRT listener port"]').first();
        const written = page.waitForResponse((response) => response.request().method() === 'POST' && response.url().endsWith('/edit'));
        await field.fill('9100');
        await field.press('Tab');
        await written;
        await page.goto(`${services}/streams`);
        assert.match(await page.textContent('tr:has-text("srt://10.64.50.46")'), /the ends do not match/);
        await send(page, page.locator('.finding[data-code="push-ends-apart"] button').first());
        await page.goto(`${services}/streams`);
        assert.match(await page.textContent('tr:has-text("srt://10.64.50.46")'), /10\.64\.50\.46:9100/);
        assert.doesNotMatch(await page.textContent('tr:has-text("srt://10.64.50.46")'), /apart/);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
