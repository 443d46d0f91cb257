// An independent SIP user agent (npm "sip", UDP or TCP, digest with MD5): registers at the PBX, right and wrong, and calls a phone.
// Usage: node party.mjs PBX_ADDRESS USER SECRET NUMBER [tcp]; prints one JSON object.
import { createRequire } from 'node:module';
import dgram from 'node:dgram';
const require = createRequire(import.meta.url);
const sip = require('sip');
const digest = require('sip/digest');
const [host, user, secret, number, transport] = process.argv.slice(2);
const over = transport === 'tcp' ? ';transport=tcp' : '';
const pbx = host + over;
const port = 20000 + Math.floor(Math.random() * 20000);
const seen = { statuses: [] };
sip.start({ address: '127.0.0.1', publicAddress: '127.0.0.1', port, tcp: over !== '', udp: over === '' }, (request) => sip.send(sip.makeResponse(request, 200, 'OK')));

const tag = () => Math.random().toString(36).slice(2, 10);
let sequence = 1;
const base = (method, uri, callId, fromTag, to = uri) => ({
    method, uri,
    headers: {
        to: { uri: to }, from: { uri: `sip:${user}@${pbx}`, params: { tag: fromTag } }, 'call-id': callId, cseq: { method, seq: sequence++ },
        contact: [{ uri: `sip:${user}@127.0.0.1:${port}${over}` }], 'max-forwards': 70,
    },
});
// It knows MD5 only: of the challenges offered it takes that one.
const onlyMd5 = (response) => {
    for (const name of ['www-authenticate', 'proxy-authenticate']) {
        if (response.headers[name]) { response.headers[name] = response.headers[name].filter((one) => /md5/i.test(one.algorithm ?? 'md5')); }
    }
    return response;
};
const ask = (request, password, provisional = () => {}) => new Promise((done) => {
    let tried = false;
    const take = (response) => {
        if (response.status < 200) { provisional(response); return; }
        if ((response.status === 401 || response.status === 407) && !tried) {
            tried = true;
            const again = { ...request, headers: { ...request.headers, cseq: { method: request.method, seq: sequence++ } } };
            delete again.headers.via;
            digest.signRequest({}, again, onlyMd5(response), { user, password, realm: response.headers[response.status === 401 ? 'www-authenticate' : 'proxy-authenticate'][0].realm.replaceAll('"', '') });
            sip.send(again, take);
            return;
        }
        done(response);
    };
    sip.send(request, take);
});
const register = async (password, expires) => {
    const request = base('REGISTER', `sip:${pbx}`, tag(), tag(), `sip:${user}@${pbx}`);
    request.headers.expires = expires;
    return ask(request, password);
};

seen.wrong = (await register('not-the-secret', 60)).status;
const right = await register(secret, 60);
seen.right = right.status;
seen.bound = (right.headers.contact ?? []).some((one) => one.uri.includes(`:${port}`));

const media = dgram.createSocket('udp4');
let heard = 0;
await new Promise((ready) => media.bind(0, '127.0.0.1', ready));
media.on('message', (bytes) => { if (bytes.length === 172 && bytes[0] === 0x80) { heard++; } });
const invite = base('INVITE', `sip:${number}@${pbx}`, tag(), tag());
invite.headers['content-type'] = 'application/sdp';
invite.content = `v=0\r\no=- 1 1 IN IP4 127.0.0.1\r\ns=-\r\nc=IN IP4 127.0.0.1\r\nt=0 0\r\nm=audio ${media.address().port} RTP/AVP 0\r\n`;
const answer = await ask(invite, secret, (response) => seen.statuses.push(response.status));
seen.call = answer.status;
seen.answeredBy = answer.headers.contact?.[0]?.uri;
if (answer.status === 200) {
    const within = (method, seq) => ({
        method, uri: answer.headers.contact[0].uri,
        headers: { to: answer.headers.to, from: answer.headers.from, 'call-id': answer.headers['call-id'], cseq: { method, seq }, 'max-forwards': 70, route: (answer.headers['record-route'] ?? []).slice().reverse(), via: [] },
    });
    sip.send(within('ACK', answer.headers.cseq.seq));
    await new Promise((later) => setTimeout(later, 800));
    seen.heard = heard;
    seen.bye = await new Promise((done) => sip.send(within('BYE', answer.headers.cseq.seq + 1), (response) => done(response.status)));
}
seen.unbound = (await register(secret, 0)).status;
seen.unknown = (await ask(base('INVITE', `sip:9999@${pbx}`, tag(), tag()), secret)).status;
console.log(JSON.stringify(seen));
process.exit(0);
