import type { IncomingMessage } from 'node:http';
import { describe, expect, it } from 'vitest';
import { isProxyName, remoteAddress, trustedProxies } from './remote-address.ts';

const from = (socket: string, forwarded: string | undefined, ...trusted: string[]) =>
  remoteAddress(
    { socket: { remoteAddress: socket }, headers: { 'x-forwarded-for': forwarded } } as never as IncomingMessage,
    trustedProxies(trusted),
  );

describe('where a request came from', () => {
  it.each<[string, string | undefined, string[], string]>([
    ['192.0.2.7', undefined, [], '192.0.2.7'],
    ['192.0.2.7', '198.51.100.1', [], '192.0.2.7'],
    ['::ffff:192.0.2.7', '198.51.100.1', [], '192.0.2.7'],
    ['192.0.2.7', '198.51.100.1', ['192.0.2.7'], '198.51.100.1'],
    ['192.0.2.7', 'made-up, 198.51.100.1', ['192.0.2.7'], '198.51.100.1'],
    ['10.1.2.3', '203.0.113.9, 198.51.100.1, 10.9.9.9', ['10.0.0.0/8'], '198.51.100.1'],
    ['10.1.2.3', 'nonsense', ['10.0.0.0/8'], '10.1.2.3'],
    ['10.1.2.3', undefined, ['10.0.0.0/8'], '10.1.2.3'],
    ['::1', '2001:db8::5', ['::1'], '2001:db8::5'],
  ])('%s forwarding %s, trusting %j: %s', (socket, forwarded, trusted, address) =>
    expect(from(socket, forwarded, ...trusted)).toBe(address),
  );

  it.each([
    ['10.0.0.0/8', true],
    ['::1', true],
    ['10.0.0.0/33', false],
    ['proxy.example', false],
    ['10.0.0.0/8/9', false],
    ['', false],
  ])('a proxy may be named %j: %s', (name, fits) => expect(isProxyName(name)).toBe(fits));
});
