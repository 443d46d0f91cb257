// Reads lines "address prefix network broadcast first last inside probe" and holds them against npm ipaddr.js; prints the lines that differ.
import ipaddr from 'ipaddr.js';
import { readFileSync } from 'node:fs';
const number = (text) => ipaddr.IPv4.parse(text).toByteArray().reduce((sum, octet) => sum * 256 + octet, 0);
let wrong = 0, lines = 0;
for (const line of readFileSync(0, 'utf8').trim().split('\n')) {
    const [address, prefix, network, broadcast, mask, inside, probe] = line.split(' ');
    const cidr = `${address}/${prefix}`;
    const theirs = [
        ipaddr.IPv4.networkAddressFromCIDR(cidr).toString(), ipaddr.IPv4.broadcastAddressFromCIDR(cidr).toString(),
        ipaddr.IPv4.subnetMaskFromPrefixLength(Number(prefix)).toString(), ipaddr.IPv4.parse(probe).match(ipaddr.IPv4.parseCIDR(cidr)) ? '1' : '0',
    ];
    const range = number(theirs[0]) <= number(probe) && number(probe) <= number(theirs[1]) ? '1' : '0';
    lines++;
    if (theirs.join() !== [network, broadcast, mask, inside].join() || range !== inside) { wrong++; console.log('differs:', line, '|', theirs.join(' ')); }
}
console.log(`${lines} compared, ${wrong} differ`);
