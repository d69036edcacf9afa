import type { IncomingMessage } from 'node:http';
import { BlockList, isIP } from 'node:net';

/** Whose forwarded addresses count: the proxies that the operator names, as addresses or networks (`10.0.0.0/8`). */
export function trustedProxies(names: readonly string[]): BlockList {
  const trusted = new BlockList();
  for (const name of names) {
    const [address = '', bits] = name.split('/');
    const family = isIP(address) === 6 ? 'ipv6' : 'ipv4';
    if (bits === undefined) trusted.addAddress(address, family);
    else trusted.addSubnet(address, Number(bits), family);
  }
  return trusted;
}

/** Whether a name of a proxy can be used. */
export function isProxyName(name: string): boolean {
  const [address = '', bits, ...rest] = name.split('/');
  const family = isIP(address);
  return family !== 0 && rest.length === 0 && (bits === undefined || (/^\d{1,3}$/.test(bits) && Number(bits) <= (family === 6 ? 128 : 32)));
}

/**
 * The address a request came from: that of the socket, unless it is a trusted proxy's. Then it is the last address of
 * `X-Forwarded-For` that no trusted proxy has; what stands before it anybody may have written.
 */
export function remoteAddress(request: IncomingMessage, trusted: BlockList): string {
  let address = plain(request.socket.remoteAddress ?? 'unknown');
  const forwarded = String(request.headers['x-forwarded-for'] ?? '')
    .split(',')
    .map((part) => plain(part.trim()))
    .filter((part) => part !== '');
  while (isTrusted(trusted, address)) {
    const before = forwarded.pop();
    if (before === undefined || isIP(before) === 0) break;
    address = before;
  }
  return address;
}

/** An IPv4 address that came in the form of IPv6 is the same address. */
const plain = (address: string): string => address.replace(/^::ffff:(?=\d+\.)/i, '');

const isTrusted = (trusted: BlockList, address: string): boolean =>
  isIP(address) !== 0 && trusted.check(address, isIP(address) === 6 ? 'ipv6' : 'ipv4');
