import { lookup as lookUp } from 'node:dns';
import { request as requestHttp } from 'node:http';
import { request as requestHttps } from 'node:https';
import { BlockList, isIP, type LookupFunction } from 'node:net';

/** Addresses that lead into the network of the server, or nowhere (IANA special-purpose address registries). */
const own = new BlockList();
for (const [net, bits] of [
  ['0.0.0.0', 8],
  ['10.0.0.0', 8],
  ['100.64.0.0', 10],
  ['127.0.0.0', 8],
  ['169.254.0.0', 16],
  ['172.16.0.0', 12],
  ['192.0.0.0', 24],
  ['192.168.0.0', 16],
  ['198.18.0.0', 15],
  ['224.0.0.0', 4],
  ['240.0.0.0', 4],
] as const)
  own.addSubnet(net, bits, 'ipv4');
for (const [net, bits] of [
  ['::', 128],
  ['::1', 128],
  // Addresses of version 4 in the clothes of version 6: none is needed to reach anybody.
  ['::ffff:0:0', 96],
  ['64:ff9b::', 96],
  ['2002::', 16],
  ['fc00::', 7],
  ['fe80::', 10],
  ['ff00::', 8],
] as const)
  own.addSubnet(net, bits, 'ipv6');

export const isOwnNetwork = (address: string): boolean => {
  const version = isIP(address);
  return version === 0 || own.check(address, version === 4 ? 'ipv4' : 'ipv6');
};

/** An address that must not be reached. */
export class AddressRefused extends Error {}

/** Looks a name up and lets only addresses outside of the server's network through: the one that was looked at is the one that is used. */
const lookUpOutside: LookupFunction = (host, options, done) => {
  lookUp(host, { ...options, all: true }, (error, addresses) => {
    if (error) return done(error, '', 0);
    const found = addresses.filter(({ address }) => !isOwnNetwork(address));
    const [first] = found;
    if (!first) return done(refusalOf(host), '', 0);
    if (options.all) return done(null, found);
    return done(null, first.address, first.family);
  });
};

const refusalOf = (host: string): AddressRefused =>
  new AddressRefused(`${host} leads into the network of this server, where it may lead only when an owner allows it`);

export interface GuardedAnswer {
  readonly status: number;
  /** The beginning of what was answered. */
  readonly text: string;
  readonly retryAfterSeconds: number | null;
}

const timeoutMs = 20_000;

/**
 * Sends a request to an address that somebody chose. It follows no redirect, reads no long answer, waits for no slow one, and reaches nothing
 * in the network of the server unless it may. Throws when there is no answer.
 */
export function guardedRequest(
  address: string,
  {
    method,
    headers,
    body,
    mayReachPrivate,
    mostAnswerBytes = 4_096,
  }: {
    readonly method: string;
    readonly headers: Readonly<Record<string, string>>;
    readonly body: string;
    readonly mayReachPrivate: boolean;
    /** Of a longer answer the beginning is given. */
    readonly mostAnswerBytes?: number;
  },
): Promise<GuardedAnswer> {
  const url = new URL(address);
  const host = url.hostname.replace(/^\[|\]$/g, '');
  // A name is looked at when it is looked up; an address is not looked up.
  if (!mayReachPrivate && isIP(host) !== 0 && isOwnNetwork(host)) return Promise.reject(refusalOf(host));
  return new Promise((resolve, reject) => {
    const send = url.protocol === 'https:' ? requestHttps : requestHttp;
    const request = send(
      url,
      {
        method,
        headers: { 'user-agent': 'rough-ember', ...headers, 'content-length': String(Buffer.byteLength(body)) },
        signal: AbortSignal.timeout(timeoutMs),
        agent: false,
        ...(mayReachPrivate ? {} : { lookup: lookUpOutside }),
      },
      (response) => {
        const parts: Buffer[] = [];
        let bytes = 0;
        const end = () =>
          resolve({
            status: response.statusCode ?? 0,
            text: Buffer.concat(parts).toString('utf8').slice(0, mostAnswerBytes),
            retryAfterSeconds: secondsOf(response.headers['retry-after']),
          });
        response.on('data', (part: Buffer) => {
          parts.push(part);
          bytes += part.length;
          if (bytes <= mostAnswerBytes) return;
          end();
          response.destroy();
        });
        response.on('end', end);
        response.on('error', reject);
      },
    );
    request.on('error', (error) =>
      reject(error.name === 'TimeoutError' || error.name === 'AbortError' ? new Error(`no answer within ${timeoutMs / 1_000} s`) : error),
    );
    request.end(body);
  });
}

function secondsOf(retryAfter: string | undefined): number | null {
  if (retryAfter === undefined) return null;
  const seconds = /^\d{1,6}$/.test(retryAfter) ? Number(retryAfter) : (Date.parse(retryAfter) - Date.now()) / 1_000;
  return Number.isFinite(seconds) && seconds >= 0 ? seconds : null;
}
