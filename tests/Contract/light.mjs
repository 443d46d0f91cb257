// An independent party for light (npm "sacn"): prints a packet it made, as hex; then takes ours from its input, hex, and says what it reads.
import { createRequire } from 'node:module';
import { readFileSync } from 'node:fs';
const { Packet } = createRequire(import.meta.url)('sacn/dist/packet.js');
const theirs = new Packet({
    universe: 321, sequence: 9, priority: 130, sourceName: 'Booth', cid: Buffer.alloc(16, 7), useRawDmxValues: true, payload: { 1: 255, 2: 12, 512: 77 },
}).buffer;
const ours = new Packet(Buffer.from(readFileSync(0, 'utf8').trim(), 'hex'), '127.0.0.1');
console.log(JSON.stringify({
    theirs: theirs.toString('hex'),
    read: { universe: ours.universe, priority: ours.priority, sequence: ours.sequence, source: ours.sourceName, first: ours.privatePayload[0], count: ours.propertyValueCount },
}));
