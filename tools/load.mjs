// Called by bin/bench: what the recipe carries. node tools/load.mjs STATE_DIR HTTPS,HTTP HTTPS,HTTP; writes its lines into docs/measurements.md.
import https from 'node:https';
import http from 'node:http';
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';

const [stateDir, ...rest] = process.argv.slice(2);
const machines = rest.map((ports) => ports.split(',').map(Number));
const console_ = (...args) => execFileSync('php', ['bin/console', ...args], { encoding: 'utf8', maxBuffer: 1e9 });

// A job to read, and one with hundreds of phones, which may fetch from this machine.
function take(slug, devices) {
    const job = JSON.parse(console_('vorhut:generate', `--devices=${devices}`, '--segments=6', '--seed=7', '--staged=100'));
    for (const segment of job.segments) { segment.fetchFrom = ['127.0.0.0-127.255.255.255']; }
    writeFileSync(`${stateDir}/${slug}.json`, JSON.stringify(job));
    console_('vorhut:import', `--slug=${slug}`, `${stateDir}/${slug}.json`);
    return job;
}
const job = take('phones', 2000);
take('load', 200);
const password = console_('vorhut:user', 'reader', '--role=technician').trim().split(' ').pop();

const ask = (port, path, { method = 'GET', body, cookie = '', tls = true, agent = false, from, name } = {}) => new Promise((resolve) => {
    const began = performance.now();
    const request = (tls ? https : http).request({
        host: '127.0.0.1', port, path, method, rejectUnauthorized: false, agent, localAddress: from, ...(name ? { servername: name } : {}),
        headers: { ...(cookie ? { cookie } : {}), ...(body ? { 'content-type': 'application/x-www-form-urlencoded', 'content-length': Buffer.byteLength(body) } : {}) },
    }, (response) => {
        let text = '';
        response.setEncoding('utf8').on('data', (part) => { text += part; }).on('end', () => resolve({ status: response.statusCode, headers: response.headers, text, ms: performance.now() - began }));
    });
    request.on('error', () => resolve({ status: 0, headers: {}, text: '', ms: performance.now() - began })).end(body);
});
const share = (times, part) => [...times].sort((a, b) => a - b)[Math.floor(part * (times.length - 1))];
async function together(count, seconds, one) {
    const times = [];
    let bad = 0;
    const until = performance.now() + seconds * 1000;
    const began = performance.now();
    await Promise.all(Array.from({ length: count }, async (_, worker) => {
        for (let n = 0; performance.now() < until; n++) {
            const { status, ms } = await one(worker, n);
            times.push(ms);
            if (status !== 200) { bad++; }
        }
    }));
    return { times, bad, rate: times.length / ((performance.now() - began) / 1000) };
}

const page = await ask(machines[0][0], '/login');
const cookies = (answer, before = '') => (answer.headers['set-cookie'] ?? []).map((one) => one.split(';')[0]).join('; ') || before;
const guest = cookies(page);
const cookie = cookies(await ask(machines[0][0], '/login', { method: 'POST', cookie: guest, body: new URLSearchParams({ _username: 'reader', _password: password, _csrf_token: page.text.match(/name="_csrf_token" value="([^"]+)"/)[1] }).toString() }), guest);

const ringing = new Set(job.extensions.map((one) => one.phone));
const phones = job.nics.filter((nic) => nic.mac && ringing.has(nic.device)).map((nic) => nic.mac.replaceAll('-', '').toLowerCase());
const first = job.extensions.find((one) => one.phone);
const sheet = (await ask(machines[0][0], `/j/phones/bench?sel=devices/${first.phone}`, { cookie })).text;
const token = sheet.match(/\/p\/([0-9a-f]{32})\//)[1];
// The made-up job has no secrets: they are made when somebody asks for one.
await ask(machines[0][0], '/j/phones/bench/secret', { method: 'POST', cookie, body: new URLSearchParams({ _token: sheet.match(/name="_token" value="([^"]+)"/)[1], _back: '/', owner: `devices/${first.phone}` }).toString() });
// A worker lays the files ready; the first fetch of each tells whether it is one.
await new Promise((later) => setTimeout(later, 8000));
const ready = [];
for (const mac of phones) { if ((await ask(machines[0][1], `/p/${token}/${mac}.xml`, { tls: false })).status === 200) { ready.push(mac); } }
const source = (n) => `127.1.${(n >> 7) % 256}.${1 + n % 128}`;
let count = 0;
const fetches = await together(50, 10, () => { const n = count++; return ask(machines[n % machines.length][1], `/p/${token}/${ready[n % ready.length]}.xml`, { tls: false, from: source(n % ready.length) }); });
const paced = await together(50, 20, async () => {
    const began = performance.now();
    const n = count++;
    const answer = await ask(machines[n % machines.length][1], `/p/${token}/${ready[n % ready.length]}.xml`, { tls: false, from: source(9000 + n % ready.length) });
    await new Promise((later) => setTimeout(later, Math.max(0, 50 / 320 * 1000 - (performance.now() - began))));
    return answer;
});
const agents = machines.map(() => new https.Agent({ keepAlive: true, maxSockets: 50, rejectUnauthorized: false }));
const pages = ['brief', 'networks', 'devices', 'bench', 'services', 'proof', 'handover'];
const readers = await together(50, 60, async (worker, n) => {
    // Nobody opens a page because forty-nine others do: they begin within the two seconds that each reads.
    if (n === 0) { await new Promise((later) => setTimeout(later, worker * 40)); }
    const answer = await ask(machines[worker % machines.length][0], `/j/load/${pages[(worker + n) % pages.length]}`, { cookie, agent: agents[worker % machines.length] });
    // A reader reads: two seconds between two pages.
    await new Promise((later) => setTimeout(later, 2000));
    return answer;
});
for (const agent of agents) { agent.destroy(); }
// The same files by the door for HTTPS, under a certificate of the job: another handshake each time.
console_('vorhut:certificate', 'phones', '--make=files.site.example');
await new Promise((later) => setTimeout(later, 8000));
const door = Number(/^VORHUT_FILES=127\.0\.0\.1:(\d+)/m.exec(readFileSync(`${stateDir}/env`, 'utf8'))[1]);
const sealed = await together(50, 10, () => {
    const n = count++;
    return ask(door, `/p/${token}/${ready[n % ready.length]}.xml`, { from: source(18000 + n % ready.length), name: 'files.site.example' });
});

const lines = [
    '',
    '## Under the recipe',
    '',
    'nginx, php-fpm (4 hands on each of two web machines), TLS, one database, two workers, and whoever asks: all on this one machine.',
    '',
    '| what | to reach | measured |',
    '| --- | --- | --- |',
    `| files of ${ready.length} phones, 50 at once for 10 s, as quick as they can, a connection for each | ≥ 300/s | ${Math.round(fetches.rate)}/s, p95 ${Math.round(share(fetches.times, 0.95))} ms, ${fetches.bad} refused or failed |`,
    `| the same, each of the fifty asking six times a second | ≥ 300/s, p95 ≤ 50 ms | ${Math.round(paced.rate)}/s, p95 ${Math.round(share(paced.times, 0.95))} ms, ${paced.bad} refused or failed |`,
    `| files over HTTPS by the door of the job's own certificate (one process), 50 at once for 10 s, a handshake each | all served | ${Math.round(sealed.rate)}/s, p95 ${Math.round(share(sealed.times, 0.95))} ms, ${sealed.bad} refused or failed |`,
    `| 50 readers of a job of 200 devices for 60 s, two seconds at each page (${readers.times.length} pages) | no error, p95 ≤ 500 ms | p50 ${Math.round(share(readers.times, 0.5))} ms, p95 ${Math.round(share(readers.times, 0.95))} ms, ${readers.bad} errors |`,
    '',
];
console.error(lines.join('\n'));
const file = 'docs/measurements.md';
writeFileSync(file, readFileSync(file, 'utf8').split('\n## Under the recipe')[0].trimEnd() + '\n' + lines.join('\n'));
