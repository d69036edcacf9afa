import { parentPort } from 'node:worker_threads';
import type { ReportInput } from '@rough-ember/core/report/report';
import { demoReports } from '@rough-ember/demo/demo-app';
import { demoSessions } from '@rough-ember/demo/demo-sessions';
import { demoOfSize, larkfieldApps } from '@rough-ember/demo/larkfield';
import { type DemoTarget, sendDemoReports, sendDemoSessions } from '@rough-ember/demo/send-demo';

/** What is to be sent of an app of the demo: its sessions, or its reports of a stretch of time. */
export interface DemoShipment {
  readonly slug: string;
  /** Sessions of the whole family. */
  readonly size: number;
  /** The moment that the demo is made for, an ISO text. */
  readonly now: string;
  readonly target: DemoTarget;
  /** The ends of the stretch are ISO texts; the first does not belong to it. */
  readonly part: 'sessions' | { readonly after: string; readonly upTo: string };
}

/** What the thread tells while it sends, and at the end. */
export type SenderNews = { readonly sent: number } | { readonly done: true } | { readonly failed: string };

const reportsOf = new Map<string, ReportInput[]>();

const tell = (news: SenderNews): void => parentPort?.postMessage(news);

// The thread in which the demo is made up and sent, beside the server that takes it in.
parentPort?.on('message', (shipment: DemoShipment) =>
  send(shipment).then(
    () => tell({ done: true }),
    (error: Error) => tell({ failed: error.message }),
  ),
);

async function send({ slug, size, now, target, part }: DemoShipment): Promise<void> {
  const usual = larkfieldApps.find((one) => one.app.slug === slug);
  if (!usual) throw new Error(`the demo has no app ${slug}`);
  const { demo, sessions } = demoOfSize(usual, size);
  const reports = reportsOf.get(slug) ?? demoReports(demo, new Date(now));
  reportsOf.set(slug, reports);
  if (part === 'sessions') await sendDemoSessions(demoSessions(demo, new Date(now), reports, sessions), target, (sent) => tell({ sent }));
  else
    await sendDemoReports(
      reports.filter(({ occurredAt }) => occurredAt > part.after && occurredAt <= part.upTo),
      target,
    );
}
