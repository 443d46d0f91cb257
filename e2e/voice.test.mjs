// Voice from the first number to the made call: a PBX with a module, numbers from a table, a provider's phone, an analogue one, calls in and out,
// fax and codecs each way, in the lab; one fault explained and cured.
import test from 'node:test';
import assert from 'node:assert/strict';
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { get } from 'node:https';
import { base, console_, ground, login, open, proveUntil, send, until } from './support.mjs';

const NET = '10.77';
const BY = { setBy: 'Jo', setAt: '2026-03-01T09:00:00Z' };
const slug = 'harbour-voice';
const job = `${base}/j/${slug}`;

/** A house that is wired and staged, and has no number yet but the one that came with its PBX. */
function house() {
    const settings = [];
    const held = (key, value) => settings.push({ key, planned: value, set: value, ...BY });
    const devices = [{ key: 'r', tag: 'R-1', kind: 'router', filterDefault: 'allow', stateful: true, position: 1 }];
    const nics = [];
    const at = (key, tag, kind, segment, host, more = {}) => {
        devices.push({ key, tag, kind, position: devices.length + 1, ...more });
        const net = { v: `${NET}.20`, w: `${NET}.40` }[segment];
        nics.push({ key: `${key}.lan`, device: key, name: 'lan', segment, mode: 'static', mac: `00-00-5E-00-54-${host.toString(16).toUpperCase().padStart(2, '0')}` });
        held(`nics/${key}.lan#address`, `${net}.${host}`);
        for (const [name, value] of [['mask', '/24'], ['gateway', `${net}.1`], ['dns', '']]) { settings.push({ key: `nics/${key}.lan#${name}`, set: value, ...BY }); }
    };
    at('pbx', 'PBX-1', 'on-site-pbx', 'v', 10);
    held('devices/pbx#module.1', 'two phones');
    held('devices/pbx#analoguePorts', '2');
    held('devices/pbx#announcedAddress', '203.0.113.2');
    at('fx', 'FX-1', 'fax-server', 'v', 11);
    held('devices/fx#faxTransport', 'T.38');
    at('c1', 'VC-1', 'room-codec', 'v', 12);
    at('c2', 'VC-2', 'room-codec', 'w', 13, { controlledFrom: 'v' });
    devices.push({ key: 'hr', tag: 'HR-1', kind: 'hosted-registrar', position: devices.length + 1 });
    for (let n = 1; n <= 20; n++) {
        const key = `p${n}`;
        at(key, `PH-${n}`, 'desk-phone-poe', n % 3 ? 'v' : 'w', 30 + n);
        if (n < 20) { held(`devices/${key}#provisioning`, 'vorhut'); held(`devices/${key}#provisioningUser`, ''); } else { held(`devices/${key}#transport`, 'tls'); }
    }
    const pbx = { pbx: 'pbx' };
    return {
        format: 'vorhut-job', version: 2,
        job: { name: 'Harbour voice', country: 'NO', timeZone: 'Europe/Oslo', practice: true, extensionFirst: '2100', extensionLast: '2999', outsideDigit: '0', emergencyNumbers: ['112'], voicemailAfter: 4 },
        segments: [['v', 'Voice', `${NET}.20.0/24`, `${NET}.20.1`], ['w', 'West', `${NET}.40.0/24`, `${NET}.40.1`], ['up', 'Uplink', '203.0.113.0/29', '203.0.113.1']]
            .map(([key, name, network, gateway]) => ({ key, name, network, gateway })),
        devices, nics,
        routerPorts: [['v', `${NET}.20.1`, '/24'], ['w', `${NET}.40.1`, '/24'], ['up', '203.0.113.2', '/29']].map(([segment, address, mask]) => ({ key: `r-${segment}`, router: 'r', segment, address, mask })),
        routes: [{ key: 'out', router: 'r', destination: '0.0.0.0/0', via: '203.0.113.1' }],
        translations: [
            { key: 'nat', router: 'r', outside: 'up', what: 'source', position: 10, transport: 'any' },
            { key: 'media', router: 'r', outside: 'up', what: 'forward', position: 20, inside: `${NET}.20.10`, transport: 'udp', portFirst: 40000, portLast: 40099 },
        ],
        extensions: [{ key: 'x1001', number: '1001', name: 'User 1', ...pbx, terminal: 'none', factoryMade: true }],
        trunks: [
            { key: 'p', name: 'Provider', ...pbx, address: '198.51.100.30', port: 5060, transport: 'udp', registers: true, user: 'harbour', channels: 8, callerId: '+4721000000', emergency: true },
            { key: 'fax', name: 'Fax server', ...pbx, far: 'fx', port: 5060, transport: 'udp', channels: 2 },
        ],
        callRoutes: [
            { key: 'emergency', name: 'Emergency', ...pbx, position: 10, map: '112', trunk: 'p' },
            { key: 'emergency-0', name: 'Emergency behind the 0', ...pbx, position: 20, map: '0112', strip: 1, trunk: 'p' },
            { key: 'home', name: 'At home', ...pbx, position: 30, map: '0[2-9]xxxxxxx', strip: 1, trunk: 'p' },
            { key: 'fax', name: 'To the fax server', ...pbx, position: 40, map: '29xx', trunk: 'fax' },
        ],
        inboundRoutes: [
            { key: 'main', trunk: 'p', position: 10, map: '4721000000', to: '2200' },
            { key: 'fax', trunk: 'p', position: 20, map: '4721000009', to: '2901' },
        ],
        menus: [{ key: 'm', number: '2200', name: 'Welcome', ...pbx, choices: ['1 2101', '2 2300'], otherwise: '2101', seconds: 6 }],
        ringGroups: [{ key: 'g', number: '2300', name: 'Desk', ...pbx, members: ['2102', '2103'], order: 'all', otherwise: '2101', seconds: 15 }],
        settings,
    };
}

test('from the first number to calls that are really made', { timeout: 900000 }, async () => {
    writeFileSync(`${ground}/${slug}.json`, JSON.stringify(house()));
    rmSync(`${ground}/lab/${slug}.json`, { force: true }); // of a run before this one
    console_('vorhut:import', `--slug=${slug}`, `${ground}/${slug}.json`);
    const { browser, page, complaints } = await open();
    try {
        await login(page, 'lead');
        await page.goto(`${job}/services`);
        // Numbers from a table: nineteen of ours, the provider's, an analogue one at the module.
        const rows = ['number,name,phone,pbx,terminal,location,voicemail'];
        for (let n = 1; n <= 19; n++) { rows.push(`${2100 + n},Desk ${n},PH-${n},PBX-1,sip,"Harbour, room ${n}",no`); }
        rows.push('2120,Visitors,PH-20,HR-1,sip,"Harbour, visitors",no', '2190,Lift,,PBX-1,analogue,"Harbour, lift",no', '2101,twice,PH-1,PBX-1,sip,x,no');
        const table = page.locator('form[action$="/services/numbers"] textarea');
        await table.fill(rows.join('\n'));
        await page.click('form[action$="/services/numbers"] button:has-text("Preview")');
        await page.click('button:has-text("Add 21 rows")');
        await page.waitForSelector('text=21 numbers pasted.');
        // The one that came with the PBX goes.
        await page.goto(`${job}/services`);
        await send(page, page.locator('#number-x1001 button:has-text("remove")'));
        await page.goto(`${job}/services`);
        assert.equal(await page.locator('#number-x1001').count(), 0);
        // What nobody entered is not entered: twenty times, phone by phone.
        const entered = page.locator('button:has-text("as entered")');
        assert.equal(await entered.count(), 20);
        for (let left = 20; left > 0; left--) {
            await entered.first().click();
            await page.waitForFunction((n) => [...document.querySelectorAll('button')].filter((one) => one.textContent.includes('as entered')).length < n, left);
        }
        await page.goto(`${job}/proof`);
        await page.click('button:has-text("Start the lab")');
        await page.waitForSelector('button:has-text("Stop the lab")');
        await until(page, `${job}/services`, async () => await page.locator('.board section[aria-label=Waiting] .ticket').count() === 1, 120);

        // Simulated: inside, to the module, to the provider's.
        const rings = async (from, digits) => { await page.goto(`${job}/services?from=${from}&digits=${digits}`); return page.textContent('main'); };
        assert.match(await rings('2101', '2119'), /rings\s+PH-19/);
        assert.match(await rings('2101', '2190'), /rings the analogue port of 2190/);
        assert.match(await rings('2120', '022345678'), /is handed to HR-1, by whose rules it goes on/);

        // Really made: registered, called, out, in, by the menu, fax and codecs each way.
        const line = (text) => page.locator(`tr:has-text("${text}")`);
        const planned = async (text) => /passed/.test(await line(text).first().textContent());
        await proveUntil(page, `${job}/proof`, 'button:has-text("Run all tests")', async () => await page.locator('table.book tr.failed, table.book tr.outdated').count() === 0);
        await page.goto(`${job}/proof`);
        const all = await page.textContent('main');
        assert.match(all, /0 failed/);
        for (const [caller, called] of [['VC-1', 'VC-2'], ['VC-2', 'VC-1']]) { assert.ok(all.includes(caller) && all.includes(called)); }
        await page.goto(`${job}/services/calls`);
        await send(page, page.locator('button:has-text("Make the calls in the lab")'));
        await until(page, `${job}/services/calls`, async () => await planned('through At home') && await planned('through To the fax server')
            && await planned('the key 1 leads to 2101') && await planned('the key 2 leads to 2300'), 240);
        assert.match(await page.textContent('main'), /takes the fax over T\.38/);

        // Over HTTPS, by a certificate of this job: who was not told whom to trust is named, and another program follows what is shown.
        await page.goto(`${job}/services`);
        await page.click('#certificate summary');
        await page.fill('#certificate input[name=host]', 'files.harbour.example');
        await send(page, page.locator('#certificate button:has-text("Create certificate")'));
        await page.goto(`${job}/services`);
        assert.match(await page.textContent('main'), /over HTTPS\s+files\.harbour\.example/);
        assert.match(await page.textContent('body'), /PH-1 does not trust the certificate of files\.harbour\.example/);
        await page.goto(`${job}/bench?sel=devices/p1`);
        const authority = await page.textContent('#step-trust dd.v.small');
        const file = `${(await page.locator('#step-server dd.v.small').last().textContent()).trim()}00005e00541f.xml`;
        for (const step of ['unpack', 'hook-up', 'address', 'trust']) {
            await page.click(`#step-${step} button:has-text("Done")`);
            await page.waitForSelector(`#step-${step}.is-done`);
        }
        await page.goto(`${job}/services`);
        assert.doesNotMatch(await page.textContent('body'), /PH-1 does not trust the certificate/);
        assert.match(file, /^https:\/\/files\.harbour\.example:\d+\/p\//);
        const door = Number(/^VORHUT_FILES=127\.0\.0\.1:(\d+)/m.exec(readFileSync(`${ground}/env`, 'utf8'))[1]);
        const take = async (ca) => new Promise((resolve, reject) => {
            get({ host: '127.0.0.1', port: door, servername: 'files.harbour.example', ca, path: new URL(file).pathname, headers: { host: 'files.harbour.example' } }, (answer) => {
                let body = '';
                answer.on('data', (more) => { body += more; });
                answer.on('end', () => resolve(`${answer.statusCode} ${body}`));
            }).on('error', reject);
        });
        const pem = await (await fetch(authority.trim())).text();
        let taken = '';
        for (let tries = 0; tries < 20 && !taken; tries++) { taken = await take(pem).catch(() => new Promise((soon) => { setTimeout(() => soon(''), 250); })); }
        assert.match(taken, /^200 .*<account extension="2101"/s);
        await assert.rejects(take(undefined), /certificate/i);
        assert.equal((await fetch(`${base}${new URL(file).pathname}`)).status, 403, 'not in the clear any more');

        // A fault, its walk, its cure.
        await page.goto(`${job}/proof`);
        await page.selectOption('#fault', 'wrong-gateway');
        await page.selectOption('#fault-at', { label: 'VC-2' });
        await page.click('button:has-text("Inject fault")');
        const reach = page.locator('table.book a', { hasText: /VC-2 answers on/ }).first();
        await page.goto(`${job}/proof?q=VC-2`);
        const line_ = new URL(await reach.getAttribute('href'), `${job}/proof`).href;
        await proveUntil(page, line_, 'button:has-text("Run this test")', async () => await page.locator('.walk .hop.broken').count() > 0);
        assert.match(await page.textContent('#walk'), /failed/);
        await send(page, page.locator('button:has-text("Apply this fix")').first());
        await proveUntil(page, line_, 'button:has-text("Run this test")', async () => /passed/.test(await page.textContent('#walk')));
        assert.deepEqual(complaints, []);
    } finally {
        await browser.close();
    }
});
