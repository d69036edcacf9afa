import { reportKinds } from '@rough-ember/core/report/report-kinds';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { wordCount } from '../words/numbers';

/** One of the usual reasons why no report comes, and whether what the server knows speaks for it. */
export interface QuietReason {
  readonly name: 'address' | 'key' | 'build type' | 'rules' | 'next launch';
  /** "likely": something was found that explains it. "unlikely": it was looked for and is not there. "unknown": only the app can tell. */
  readonly verdict: 'likely' | 'unlikely' | 'unknown';
  /** What it is, with what was found, and what to do. */
  readonly words: string;
}

type Known = Pick<IntakeOverview, 'keys' | 'log' | 'hours'>;

/** The five usual reasons, those first that are likely. */
export function quietReasons(overview: Known, serverAddress: string): QuietReason[] {
  const order = ['likely', 'unknown', 'unlikely'] as const;
  const reasons = [byAddress(serverAddress), byKey(overview), byBuildType(overview), byRules(overview), byNextLaunch(overview)];
  return reasons.sort((a, b) => order.indexOf(a.verdict) - order.indexOf(b.verdict));
}

const sum = ({ hours }: Known, outcome: keyof Known['hours'][number]['counts']): number =>
  hours.reduce((total, { counts }) => total + counts[outcome], 0);

/** A phone does not reach what only this computer knows, and phones refuse what is not encrypted unless they are told not to. */
function byAddress(serverAddress: string): QuietReason {
  const { hostname, protocol, host } = new URL(serverAddress);
  const name = 'address';
  if (/^(localhost|127\.|\[::1\]|0\.0\.0\.0)/.test(hostname))
    return {
      name,
      verdict: 'likely',
      words: `${host} is reached from this computer alone. A device needs an address of this computer in its network: start the server with HOST and EMBER_PUBLIC_URL (README).`,
    };
  if (protocol === 'http:')
    return {
      name,
      verdict: 'likely',
      words: `${serverAddress} is not encrypted. Android from 9 on and iOS refuse that unless the app allows it; put the server behind HTTPS, or allow it in a debug build.`,
    };
  return { name, verdict: 'unknown', words: `The device must reach ${serverAddress}: open it in the device’s browser.` };
}

function byKey({ log, keys }: Known): QuietReason {
  const name = 'key';
  const wrong = log.filter(({ status }) => status === 401 || status === 403);
  if (wrong.length > 0)
    return {
      name,
      verdict: 'likely',
      words: `${wordCount(wrong.length, 'request', 'requests')} came with a key that is not taken: ${(wrong[0]?.reason ?? 'it is of no app').replace(/\.$/, '')}. Copy the key of this app again.`,
    };
  if (keys.every(({ revokedAt }) => revokedAt !== null))
    return { name, verdict: 'likely', words: 'Every key of this app is revoked: make a new one, and put it into the app.' };
  const used = keys.some(({ lastUsedAt }) => lastUsedAt !== null);
  return used
    ? { name, verdict: 'unlikely', words: 'The key is right: requests came with it.' }
    : {
        name,
        verdict: 'unknown',
        words: 'No request came with the key of this app, nor with a wrong one, so the app may not have got as far.',
      };
}

function byBuildType(overview: Known): QuietReason {
  const name = 'build type';
  const excluded = sum(overview, 'excluded');
  const refused = overview.log.filter(({ reason }) => reason?.includes('builds of type')).length;
  if (excluded > 0 || refused > 0)
    return {
      name,
      verdict: 'likely',
      words:
        refused > 0
          ? `${wordCount(refused, 'request was', 'requests were')} refused for their build type by the rules of the key.`
          : `${wordCount(excluded, 'item is', 'items are')} of a build type that the key excludes: choose “excluded builds” in the sentence of Cases, or change the rules of the key.`,
    };
  return {
    name,
    verdict: 'unknown',
    words: 'A debug build sends nothing unless the client is told to, and says so once in its log. What it sends is excluded by the key.',
  };
}

function byRules(overview: Known): QuietReason {
  const name = 'rules';
  const sampledOut = sum(overview, 'sampled-out');
  if (sampledOut > 0)
    return {
      name,
      verdict: 'likely',
      words: `${wordCount(sampledOut, 'report was', 'reports were')} left out because the key keeps a share of them alone.`,
    };
  const limited = overview.log.filter(({ status }) => status === 429).length;
  if (limited > 0)
    return { name, verdict: 'likely', words: `${wordCount(limited, 'request', 'requests')} came faster than the key allows in a minute.` };
  const inUse = overview.keys.filter(({ revokedAt }) => revokedAt === null);
  const missing = reportKinds.filter((kind) => inUse.length > 0 && inUse.every(({ rules }) => !rules.kinds.includes(kind)));
  return missing.length > 0
    ? { name, verdict: 'likely', words: `No key of this app takes reports of kind ${missing.join(', ')}.` }
    : { name, verdict: 'unlikely', words: 'The rules of the key take reports of every kind, and nothing was sampled out.' };
}

function byNextLaunch(overview: Known): QuietReason {
  const name = 'next launch';
  const came = sum(overview, 'accepted') + sum(overview, 'duplicate');
  return came > 0
    ? {
        name,
        verdict: 'likely',
        words: `${wordCount(came, 'item', 'items')} came, sessions most likely, so the way is open: a crash is kept on the device and sent when the app is started again.`,
      }
    : { name, verdict: 'unknown', words: 'A crash is kept on the device, and sent when the app is started again.' };
}
