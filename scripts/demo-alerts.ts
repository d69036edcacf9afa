import { alertRuleSchema } from '@rough-ember/core/alerts/alert-rule';
import { larkfieldApps, larkfieldGuide } from '@rough-ember/demo/larkfield';
import type { StandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { receiverSecrets } from '@rough-ember/demo/stand-ins/web-receivers';
import type { Services } from '@rough-ember/server/services';
import { addAlertRule, addFirstRules, listAlertRules } from '@rough-ember/store/alert-rules';
import { type App, findApp } from '@rough-ember/store/apps';
import { addChannel, changeChannel, listChannels } from '@rough-ember/store/channels';

/** Whom the history of the demo names for what the demo itself made. */
const madeBy = 'demo';

type DemoServices = Pick<Services, 'database' | 'serverKey'>;

/** The ways that alerts of the demo go: to the stand-ins, wherever these are at this start. */
const channelsOf = ({ address }: StandIns) => [
  { name: 'Map team’s room', kind: 'room', settings: { body: '{"text": "{{text}}"}' }, secret: `${address}/rooms/map-team` },
  { name: 'Build server', kind: 'webhook', settings: { address: `${address}/webhook` }, secret: receiverSecrets.webhook },
  {
    name: 'Wardens',
    kind: 'matrix',
    settings: { homeServer: address, room: '!wardens:larkfield.example' },
    secret: receiverSecrets.matrix,
  },
  {
    name: 'Phone on call',
    kind: 'text-message',
    settings: {
      gateway: `${address}/text-messages`,
      to: ['+4755501234'],
      headers: { authorization: 'Bearer {{secret}}' },
      form: 'json',
      body: '{"to": "{{to}}", "text": "{{subject}}"}',
    },
    secret: receiverSecrets.textMessage,
  },
];

/** Rules of the larger app beside those that every app begins with, by the names of their channels. */
const rulesOfGuide = [
  {
    what: { kind: 'report' },
    where: 'kind=crash,hang,kill,error&filter=flags.night-map%20%3D%20%22on%22',
    to: ['Map team’s room'],
    when: 'hourly',
  },
  { what: { kind: 'version' }, where: '', to: ['Build server', 'Phone on call'], when: 'at-once' },
  { what: { kind: 'symbols', reports: 1 }, where: '', to: ['Build server', 'Wardens'], when: 'at-once' },
  { what: { kind: 'count', of: 'people', atLeast: 5, days: 1 }, where: 'kind=crash', to: ['Map team’s room'], when: 'at-once' },
] as const;

/** Gives the apps of the demo their channels and rules, once; where the stand-ins are is said at every start. */
export async function seedAlerts(services: DemoServices, standIns: StandIns): Promise<void> {
  for (const { app: demo } of larkfieldApps) {
    const app = await findApp(services.database, demo.slug);
    if (!app) continue;
    const isNew =
      (await listAlertRules(services.database, app.id)).length === 0 && (await listChannels(services.database, app.id)).length === 0;
    if (isNew) await addFirstRules(services.database, app.id);
    if (demo.slug === larkfieldGuide.app.slug) await seedGuide(services, app, standIns, isNew);
  }
}

async function seedGuide({ database, serverKey }: DemoServices, app: App, standIns: StandIns, isNew: boolean): Promise<void> {
  const known = await listChannels(database, app.id);
  for (const { secret, ...channel } of channelsOf(standIns)) {
    const written = { ...channel, secret: serverKey.encrypt(secret), mayReachPrivate: true };
    const before = known.find((one) => one.name === channel.name && one.madeBy === madeBy);
    if (before) await changeChannel(database, app.id, before.id, written);
    else if (isNew) await addChannel(database, app.id, { ...written, madeBy });
  }
  if (!isNew) return;
  const channels = await listChannels(database, app.id);
  for (const { what, where, to, when } of rulesOfGuide) {
    const ids = to.flatMap((name) => channels.find((one) => one.name === name)?.id ?? []);
    const rule = alertRuleSchema.parse({ what, where, whom: { people: 'nobody', channels: ids }, pace: { when } });
    await addAlertRule(database, app.id, rule, madeBy);
  }
}
