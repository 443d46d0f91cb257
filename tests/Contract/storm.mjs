// So many phones that start in one moment, each with a socket of its own: REGISTER, challenge, REGISTER with digest (RFC 8760, SHA-256),
// repeated as RFC 3261 §17.1.2.2 says. Usage: node storm.mjs PBX_ADDRESS FIRST_NUMBER COUNT; the secret of 1000 is "secret-of-1000".
import dgram from 'node:dgram';
import { createHash, randomBytes } from 'node:crypto';

const [host, first, count] = [process.argv[2], Number(process.argv[3]), Number(process.argv[4])];
const hash = (text) => createHash('sha256').update(text).digest('hex');
const seen = { registered: 0, refused: 0, silent: 0, again: 0 };
const times = [];

// One request, sent again until its answer is there or 32 s are over.
const ask = (socket, branch, text) => new Promise((done) => {
    let wait = 500;
    let timer;
    const end = (answer) => { clearTimeout(timer); clearTimeout(over); socket.off('message', take); done(answer); };
    const take = (bytes) => { const answer = bytes.toString('latin1'); if (answer.includes(branch) && !/^SIP\/2\.0 1/.test(answer)) { end(answer); } };
    const send = () => { socket.send(text, 5060, host); timer = setTimeout(() => { seen.again++; wait = Math.min(4000, wait * 2); send(); }, wait); };
    const over = setTimeout(() => end(''), 32000);
    socket.on('message', take);
    send();
});

async function phone(user, secret) {
    const socket = dgram.createSocket('udp4');
    await new Promise((ready) => socket.bind(0, '127.0.0.1', ready));
    const { port } = socket.address();
    const [call, tag] = [randomBytes(8).toString('hex'), randomBytes(4).toString('hex')];
    const register = (sequence, more = '') => {
        const branch = 'z9hG4bK' + randomBytes(8).toString('hex');
        return ask(socket, branch, [
            `REGISTER sip:${host} SIP/2.0`, `Via: SIP/2.0/UDP 127.0.0.1:${port};branch=${branch};rport`, 'Max-Forwards: 70',
            `From: <sip:${user}@${host}>;tag=${tag}`, `To: <sip:${user}@${host}>`, `Call-ID: ${call}`, `CSeq: ${sequence} REGISTER`,
            `Contact: <sip:${user}@127.0.0.1:${port}>`, 'Expires: 60', ...(more ? [more] : []), 'Content-Length: 0', '', '',
        ].join('\r\n'));
    };
    const began = performance.now();
    const challenge = await register(1);
    const offer = challenge.split('\r\n').find((line) => /^WWW-Authenticate:.*SHA-256/.test(line)) ?? '';
    const said = (name) => offer.match(new RegExp(`${name}="([^"]*)"`))?.[1] ?? '';
    const proof = hash(`${hash(`${user}:${said('realm')}:${secret}`)}:${said('nonce')}:00000001:c:auth:${hash(`REGISTER:sip:${host}`)}`);
    const answer = await register(2, `Authorization: Digest username="${user}", realm="${said('realm')}", nonce="${said('nonce')}", uri="sip:${host}", `
        + `algorithm=SHA-256, qop=auth, nc=00000001, cnonce="c", response="${proof}"`);
    socket.close();
    times.push(performance.now() - began);
    const status = Number(answer.match(/^SIP\/2\.0 (\d+)/)?.[1] ?? 0);
    seen[status === 200 ? 'registered' : status ? 'refused' : 'silent']++;
}

const began = performance.now();
await Promise.all(Array.from({ length: count }, (_, n) => phone(String(first + n), `secret-of-${first + n}`)));
times.sort((a, b) => a - b);
console.log(JSON.stringify({ ...seen, seconds: (performance.now() - began) / 1000, p95: times[Math.floor(0.95 * (times.length - 1))] }));
