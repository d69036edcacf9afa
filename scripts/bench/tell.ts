import { randomUUID } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import { startStandIns } from '@rough-ember/demo/stand-ins/stand-ins';
import { receiverSecrets } from '@rough-ember/demo/stand-ins/web-receivers';
import { signedIn } from './ask.ts';
import { type Bench, percentile } from './figure.ts';
import { reportLines, send, settled, withProduct } from './intake.ts';

const rules = 10_000;
const reportsASecond = 200;
const seconds = 40;
const perSend = 10;

/** A crash whose case nobody has seen, of somebody behind a flag. */
const newCrash = (name: string, flag: string): string =>
  JSON.stringify({
    type: 'report',
    id: randomUUID(),
    kind: 'crash',
    occurredAt: new Date().toISOString(),
    version: '4.3.0',
    build: '430',
    installationId: randomUUID(),
    flags: { [flag]: 'on' },
    exceptions: [{ type: `com.larkfield.${name}`, stack: `com.larkfield.${name}\n\tat com.larkfield.guide.${name}.sit(${name}.java:12)` }],
  });

/** How long after a report is in its case the message that a rule tells of it has left, beside 10,000 rules and a steady rate of reports. */
export const tellDelay: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const standIns = await startStandIns();
    const ask = await signedIn(product);
    const api = '/api/v1/apps/larkfield-guide';
    const { id: channel } = (await ask(`${api}/channels`, {
      name: 'bench',
      kind: 'webhook',
      settings: { address: `${standIns.address}/webhook` },
      secret: receiverSecrets.webhook,
      mayReachPrivate: true,
    })) as { id: number };
    const [[app]] = (await database.query("SELECT id FROM apps WHERE slug = 'larkfield-guide'")) as unknown as [[{ id: number }]];
    const rule = (where: string) => ({
      what: { kind: 'report' },
      where,
      whom: { people: 'nobody', channels: [channel] },
      pace: { when: 'at-once', everyMinutes: 1, workingDays: false },
      until: null,
      paused: false,
    });
    await database.query('DELETE FROM alert_rules WHERE app_id = ?', [app.id]);
    // Each asks for a flag of its own that no report has.
    const many = Array.from({ length: rules }, (_, at) => rule(`filter=${encodeURIComponent(`flags.beta-${at} = on`)}`));
    for (let at = 0; at < many.length; at += 1_000)
      await database.query('INSERT INTO alert_rules (app_id, kind, rule, made_by) VALUES ?', [
        many.slice(at, at + 1_000).map((one) => [app.id, 'report', JSON.stringify(one), '']),
      ]);
    const next = reportLines();
    const answeredAt = new Map<string, number>();
    const began = Date.now();
    const pending: Promise<void>[] = [];
    for (let sent = 0; sent < reportsASecond * seconds; sent += perSend) {
      const due = began + (sent / reportsASecond) * 1_000;
      if (due > Date.now()) await pause(due - Date.now());
      const lines = Array.from({ length: perSend }, () => next().line);
      // Every two seconds one that a rule of its own waits for, which gathers nothing yet.
      const turn = sent / (2 * reportsASecond);
      const name = Number.isInteger(turn) ? `Bird${letters(turn)}` : null;
      if (name !== null) lines.push(newCrash(name, `beta-${turn}`));
      pending.push(
        send(product, lines).then(() => {
          if (name !== null) answeredAt.set(name, Date.now());
        }),
      );
    }
    await Promise.all(pending);
    await settled(database);
    const deadline = Date.now() + 120_000;
    const arrivedAt = (name: string) => standIns.list().find((one) => one.text.includes(`${name} `) || one.text.includes(`${name}.`))?.at;
    while ([...answeredAt.keys()].some((name) => arrivedAt(name) === undefined) && Date.now() < deadline) await pause(250);
    await standIns.stop();
    const [facts] = (await database.query(
      "SELECT cases.what, TIMESTAMPDIFF(MICROSECOND, '1970-01-01', MIN(alerts.at)) / 1000 AS at FROM alerts JOIN cases ON cases.id = alerts.case_id WHERE alerts.kind = 'report' GROUP BY cases.what",
    )) as unknown as [{ what: string; at: number }[]];
    const factAt = new Map(facts.map(({ what, at }) => [what, Number(at)]));
    const since = (began: (name: string) => number) =>
      [...answeredAt.keys()].map((name) => Date.parse(arrivedAt(name) ?? '') - began(name));
    const [delays, wholeDelays] = [since((name) => factAt.get(name) ?? Number.NaN), since((name) => answeredAt.get(name) as number)];
    if (delays.some(Number.isNaN)) throw new Error('a report that a rule waits for was not told');
    const p95 = percentile(delays, 95);
    return {
      name: 'tell.delay',
      value: p95,
      unit: 'ms',
      yardstick: 'the 5,000 ms in which a message is to leave',
      ratio: p95 / 5_000,
      note: `${delays.length} reports that a rule waits for, among ${reportsASecond} reports a second for ${seconds} s, ${rules} rules that ask for a flag each; from when the report is in its case, half within ${percentile(delays, 50)} ms, the slowest ${Math.max(...delays)} ms; 2,000 ms of it are those in which what happens at once is gathered. From its 202, which is longer where the machine falls behind with the reports: half within ${percentile(wholeDelays, 50)} ms, 95 % within ${percentile(wholeDelays, 95)} ms`,
    };
  });

/** A number in letters, which no title takes for a number. */
const letters = (number: number): string => [...String(number)].map((digit) => 'abcdefghij'[Number(digit)]).join('');
