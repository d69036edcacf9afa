import { setTimeout as pause } from 'node:timers/promises';
import { Worker } from 'node:worker_threads';
import { dayMs } from '@rough-ember/core/durations';
import type { DemoApp } from '@rough-ember/demo/demo-app';
import { demoOfSize } from '@rough-ember/demo/larkfield';
import { type DemoTarget, sendDemoSymbols } from '@rough-ember/demo/send-demo';
import { addNote, runCaseActions } from '@rough-ember/server/desk/case-actions';
import { makeFilterable } from '@rough-ember/server/desk/fields';
import type { Services } from '@rough-ember/server/services';
import { threadEntry } from '@rough-ember/server/thread-entry';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { changeFirstLook, findApp, readDeskSettings } from '@rough-ember/store/apps';
import { countAllJobs, countJobs } from '@rough-ember/store/jobs';
import { addFlagChange, addRolloutStep } from '@rough-ember/store/rollouts';
import type { DemoShipment, SenderNews } from './demo-sender.ts';

/** Loads an app of the demo: its symbol files, its sessions, its reports in the order they happened, and what its people did meanwhile. */
export async function loadDemoApp(
  services: Services,
  usual: DemoApp,
  target: DemoTarget,
  { actor, sender, onSent = () => {} }: { actor: string; sender: DemoSender; onSent?: (sessions: number) => void },
): Promise<void> {
  const now = new Date();
  const size = services.settings.demoSessions;
  const { demo } = demoOfSize(usual, size);
  const app = await findApp(services.database, demo.app.slug);
  if (!app) throw new Error(`the app ${demo.app.slug} is not there`);
  for (const name of demo.filterable) await makeFilterable(services, app, { name, by: actor });
  const settings = await readDeskSettings(services.database, app.id);
  const repository = `https://git.larkfield.example/${demo.app.slug}/{version}/{file}#line-{line}`;
  const breakdowns = [...settings.breakdowns.filter((one) => one.field !== 'attributes'), { field: 'screen' as const, key: '' }];
  const sources = demo.sources === undefined ? [] : [{ folder: demo.sources, revision: null }];
  const value = { ...settings, repository, breakdowns, sources };
  await changeAppSetting(services.database, { appId: app.id, setting: 'desk', value, by: 'the demo' });
  if (demo.firstLook) await changeFirstLook(services.database, app.id, demo.firstLook);
  await sendDemoSymbols(demo, target);
  const ago = (days: number) => new Date(now.getTime() - days * dayMs).toISOString();
  for (const { days, action = 'step', note = '', ...step } of demo.rollouts)
    await addRolloutStep(services.database, app.id, { ...step, action, at: ago(days), by: actor, commit: '', note });
  for (const { days, ...change } of demo.flagChanges ?? [])
    await addFlagChange(services.database, app.id, { ...change, flag: demo.flag.name, at: ago(days), by: actor });
  const send = (part: DemoShipment['part']) => sender({ slug: demo.app.slug, size, now: now.toISOString(), target, part }, onSent);
  const { cameBack } = demo;
  const closedAt = cameBack ? ago(cameBack.days) : '';
  // What is worked on already does not wait for the sessions.
  if (cameBack) await send({ after: '', upTo: closedAt });
  await send('sessions');
  if (cameBack) {
    await settled(services, app.id);
    const ref = await refOf(services, app.id, cameBack.where, app.prefix);
    if (ref !== null) {
      await addNote(services, app, { ref, actor, text: `Cured in ${cameBack.version}: the stream is read to its end now.` });
      const action = { action: 'close' as const, version: cameBack.version };
      await runCaseActions(services, { app, actor, request: { cases: [ref], action }, now });
    }
  }
  await send({ after: closedAt, upTo: now.toISOString() });
}

/** Has a part of the demo made up and sent by a thread of its own. */
export type DemoSender = (shipment: DemoShipment, onSent: (sessions: number) => void) => Promise<void>;

/** Starts that thread, lets it be used for one part after the other, and ends it. */
export async function withDemoSender(use: (sender: DemoSender) => Promise<void>): Promise<void> {
  const thread = new Worker(threadEntry('demo-sender'));
  try {
    await use(
      (shipment, onSent) =>
        new Promise((resolve, reject) => {
          const onNews = (news: SenderNews) => {
            if ('sent' in news) return onSent(news.sent);
            thread.off('message', onNews).off('error', reject);
            if ('failed' in news) reject(new Error(news.failed));
            else resolve();
          };
          thread.on('message', onNews).on('error', reject);
          thread.postMessage(shipment);
        }),
    );
  } finally {
    await thread.terminate();
  }
}

/** Waits until everything that was accepted is processed: of one app, or of all. */
export async function settled({ database }: Pick<Services, 'database'>, appId?: number): Promise<void> {
  const count = async () => {
    if (appId === undefined) return countAllJobs(database);
    const jobs = await countJobs(database, appId);
    return Object.values(jobs).reduce((sum, one) => sum + one, 0);
  };
  while ((await count()) > 0) await pause(100);
}

async function refOf({ database }: Pick<Services, 'database'>, appId: number, where: string, prefix: string): Promise<string | null> {
  const found = await database('cases').where({ app_id: appId, where_text: where, state: 'open' }).first('number');
  return found ? `${prefix}-${found.number}` : null;
}
