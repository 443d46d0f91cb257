// The recipe: two web machines behind nginx and TLS, with one database.
import test from 'node:test';
import assert from 'node:assert/strict';
import https from 'node:https';
import http from 'node:http';
import { readFileSync } from 'node:fs';

const ground = process.env.VORHUT_STATE_DIR;
const machines = process.env.MACHINES.split(' ').map((ports) => ports.split(',').map(Number));
const ask = (port, path, { method = 'GET', body, cookie = '', tls = true, headers = {} } = {}) => new Promise((resolve, reject) => {
    const request = (tls ? https : http).request({
        host: '127.0.0.1', port, path, method, rejectUnauthorized: false, agent: false,
        headers: { ...(cookie ? { cookie } : {}), ...(body ? { 'content-type': 'application/x-www-form-urlencoded', 'content-length': Buffer.byteLength(body) } : {}), ...headers },
    }, (response) => {
        let text = '';
        response.on('data', (part) => { text += part; }).on('end', () => resolve({ status: response.statusCode, headers: response.headers, text }));
    });
    request.on('error', reject).end(body);
});
const cookieOf = (answer, before = '') => (answer.headers['set-cookie'] ?? []).map((one) => one.split(';')[0]).join('; ') || before;

async function login(port) {
    const password = readFileSync(`${ground}/logins`, 'utf8').match(/lead\s+(\S+)/)[1];
    const page = await ask(port, '/login');
    const token = page.text.match(/name="_csrf_token" value="([^"]+)"/)[1];
    const cookie = cookieOf(page);
    const answer = await ask(port, '/login', { method: 'POST', cookie, body: new URLSearchParams({ _username: 'lead', _password: password, _csrf_token: token }).toString() });
    assert.equal(answer.status, 302);
    return cookieOf(answer, cookie);
}

test('one login for both machines, and one of them may go', { timeout: 120000 }, async () => {
    const [[one], [two]] = machines;
    const cookie = await login(one);
    assert.match((await ask(one, '/login')).headers['set-cookie'].join(), /secure/i);
    for (const port of [one, two]) {
        const page = await ask(port, '/j/nordmole/proof', { cookie });
        assert.equal(page.status, 200);
        assert.match(page.text, /<h1>/);
        assert.ok(page.headers['strict-transport-security']);
    }
    const token = (await ask(one, '/j/nordmole/brief', { cookie })).text.match(/name="_token" value="([^"]+)"/)[1];
    const edit = (port, before, value) => ask(port, '/j/nordmole/edit', { method: 'POST', cookie, body: new URLSearchParams({ _token: token, _back: '/', record: 'job/', field: 'domain', before, value }).toString() });
    assert.equal((await edit(two, 'nordmole.example', 'two.example')).status, 303);
    assert.match((await ask(one, '/j/nordmole/brief', { cookie })).text, /two\.example/, 'what one wrote the other shows at once');
});

test('nothing above the web root, and no telling whether it is there', { timeout: 60000 }, async () => {
    const [[port]] = machines;
    const shape = async (path) => { const answer = await ask(port, path); return `${answer.status} ${answer.headers.location ?? ''} ${answer.headers['content-type']}`; };
    for (const [there, not] of [['/composer.json', '/nothing.json'], ['/index.php', '/nothing.php'], ['/config/bootstrap.php', '/config/nothing.php'], ['/var/demo/key', '/var/demo/nothing'], ['/..%2fcomposer.json', '/..%2fnothing.json'], ['/.git/config', '/.git/nothing']]) {
        assert.equal(await shape(there), await shape(not), there);
        assert.match(await shape(there), /^40[04]/, there);
    }
    for (const path of ['/../composer.json', '/build/../../composer.json', '/build/%2e%2e/%2e%2e/composer.json']) {
        const answer = await ask(port, path);
        assert.ok(!answer.text.includes('"require"'), path);
    }
    assert.equal((await ask(port, '/login', { headers: { host: 'elsewhere.example' } })).status, 421);
    assert.equal((await ask(port, `/j/${'x'.repeat(20000)}`)).status, 414);
});

test('phones without TLS get files where the job has no certificate, and nothing else; no log knows the path', { timeout: 120000 }, async () => {
    const [[secure, plain], [, other]] = machines;
    const cookie = await login(secure);
    const sheet = (await ask(secure, '/j/nordmole/bench?sel=devices/ph-01', { cookie })).text;
    const token = sheet.match(/\/p\/([0-9a-f]{32})\//)[1];
    const moved = await ask(plain, '/login', { tls: false });
    assert.equal(moved.status, 308);
    assert.match(moved.headers.location, /^https:/);
    // The job has a certificate of its own: over TLS by whatever name, in the clear not at all, until that is dropped.
    assert.equal((await ask(plain, `/p/${token}/00005e005304.xml`, { tls: false })).status, 403);
    assert.equal((await ask(secure, `/p/${token}/00005e005304.xml`)).status, 200);
    const authority = sheet.match(/\/authority\/[0-9a-f]{16}\.pem/)[0];
    assert.match((await ask(plain, authority, { tls: false })).text, /^-----BEGIN CERTIFICATE-----/);
    const form = new URLSearchParams({ _token: sheet.match(/name="_token" value="([^"]+)"/)[1], _back: '/', do: 'drop' });
    assert.equal((await ask(secure, '/j/nordmole/services/certificate', { method: 'POST', cookie, body: form.toString() })).status, 303);
    const macs = ['04', '06', '08', '0a'];
    const fetches = [];
    for (let n = 0; n < 60; n++) { fetches.push(ask([plain, other][n % 2], `/p/${token}/00005e0053${macs[n % 4]}.xml`, { tls: false })); }
    const statuses = (await Promise.all(fetches)).map((answer) => answer.status);
    assert.deepEqual([...new Set(statuses)], [200]);
    assert.equal((await ask(secure, `/p/${token}/00005e005304.xml`)).status, 200);
    for (const n of [1, 2]) {
        const log = readFileSync(`${ground}/machine-${n}/log/access.log`, 'utf8');
        assert.ok(!log.includes(token));
        assert.match(log, /GET "\/p\/-\/00005e0053/);
    }
});
