// Every main view of the demo: nothing that keeps people out, no overflow on a phone, and it works without scripts.
import test from 'node:test';
import assert from 'node:assert/strict';
import { AxeBuilder } from '@axe-core/playwright';
import { base, login, open } from './support.mjs';

const VIEWS = ['/', '/j/nordmole/brief', '/j/nordmole/networks/ipv6?from=pc-01&to=vc-01&port=80', '/j/nordmole/networks?from=outposts/tech&to=ra-01&port=80&proto=tcp&face=set', '/j/nordmole/networks?sel=segments/quay', '/j/nordmole/devices?sel=devices/cam-01', '/j/nordmole/bench', '/j/nordmole/services?from=2101&digits=2105', '/j/nordmole/proof', '/j/nordmole/handover', '/j/nordmole/networks/reach?from=tech&to=hall', '/j/nordmole/networks/rules?by=address', '/j/nordmole/networks/ranges', '/j/nordmole/networks/groups', '/j/nordmole/networks/ask', '/j/nordmole/networks/outposts', '/j/nordmole/services/links?more=lesson', '/j/nordmole/services/streams', '/j/nordmole/services/power', '/j/nordmole/services/sound?samples=64', '/j/nordmole/services/light?events=10+key+1', '/j/nordmole/services/calls?from=2101&digits=021234567&sel=callRoutes/abroad'];

test('axe finds nothing serious, by day and by night', { timeout: 900000 }, async () => {
    const { browser, page, complaints } = await open();
    try {
        await page.goto(`${base}/login`);
        const found = [];
        const look = async (where) => {
            const { violations } = await new AxeBuilder({ page }).analyze();
            for (const one of violations.filter(({ impact }) => ['serious', 'critical'].includes(impact))) {
                found.push(`${where}: ${one.id}: ${one.nodes.slice(0, 3).map((node) => node.target.join(' ')).join(' | ')}`);
            }
        };
        await look('login');
        await login(page, 'lead');
        for (const night of [false, true]) {
            await page.evaluate((on) => localStorage.setItem('look', on ? 'night' : 'day'), night);
            for (const view of night ? VIEWS.slice(4, 8) : VIEWS) { await page.goto(base + view); await look((night ? 'night ' : '') + view); }
        }
        assert.deepEqual(found, []);
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});

test('nothing overflows on a small screen', { timeout: 240000 }, async () => {
    const { browser, page } = await open({ width: 360, height: 800 });
    try {
        await login(page, 'technician');
        for (const view of [...VIEWS, '/j/nordmole/bench?sel=devices/ph-07', '/j/nordmole/handover']) {
            await page.goto(base + view);
            assert.equal(await page.evaluate(() => Math.max(0, document.documentElement.scrollWidth - innerWidth)), 0, view);
        }
    } finally {
        await browser.close();
    }
});

test('without scripts forms still post and errors stand where they were typed', { timeout: 240000 }, async () => {
    const { browser, page } = await open();
    try {
        const plain = await (await browser.newContext({ javaScriptEnabled: false })).newPage();
        await login(plain, 'lead');
        await plain.goto(`${base}/j/museum/devices`);
        const form = plain.locator('form.cell:has([aria-label="Address of CAM-1"])');
        await form.locator('input[name=value]').fill('10.71.5.999');
        await form.locator('button').click();
        assert.match(await plain.textContent('form.cell .wrong'), /999 is more than 255/);
        assert.equal(await plain.getByLabel('Address of CAM-1').inputValue(), '10.71.5.999');
        await page.close();
    } finally {
        await browser.close();
    }
});

test('the search goes where it is told and reckons', { timeout: 240000 }, async () => {
    const { browser, page } = await open();
    try {
        await login(page, 'viewer');
        await page.goto(`${base}/j/nordmole/brief`);
        for (const [asked, where] of [['cam-01', /devices\?sel=devices%2Fcam-01/], ['10.64.20.33', /ph-03/], ['00:00:5e:00:53:04', /ph-01/], ['2104', /services\?sel=extensions%2Fx2104/], ['Quay', /networks\?sel=segments%2Fquay/]]) {
            await page.keyboard.press('/');
            await page.keyboard.type(asked);
            await page.keyboard.press('Enter');
            await page.waitForURL(where);
            await page.keyboard.press('Escape');
        }
        await page.fill('#search', '10.40.12.77/22');
        await page.press('#search', 'Enter');
        await page.waitForSelector('output.answer');
        assert.match(await page.textContent('output.answer'), /10\.40\.12\.0\/22 .*hosts 1022/);
    } finally {
        await browser.close();
    }
});
