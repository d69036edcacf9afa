import { Button, TextInput } from '@mantine/core';
import type { ScrubRules } from '@rough-ember/core/report/scrub';
import type { RetentionView } from '@rough-ember/server/privacy/retention';
import { DeleteApp } from '../private/DeleteApp';
import styles from '../private/Private.module.css';
import { RetentionTable } from '../private/RetentionTable';
import { ScrubRulesForm } from '../private/ScrubRulesForm';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { wordScrub } from '../words/scrub';

export interface PrivatePageProps {
  readonly shell: PageShell;
  readonly retention: RetentionView;
  readonly scrub: ScrubRules;
}

export function PrivatePage(props: PrivatePageProps) {
  return (
    <Shell shell={props.shell} place="intake">
      <Private {...props} />
    </Shell>
  );
}

/** What is never stored, how long the rest is kept, and how it is deleted. */
function Private({ shell, retention, scrub }: PrivatePageProps) {
  const { app, account } = shell;
  const isOwner = account.role === 'owner';
  const side = (
    <>
      <section>
        <h2>Find or forget somebody</h2>
        <form className={styles.find} method="get" action={`/apps/${app.slug}/person`}>
          <TextInput
            name="id"
            size="xs"
            label="User id, contact or installation id"
            description="Their page shows what is known of them; owners can have all of it deleted there."
            required
          />
          <Button type="submit" size="xs" variant="default">
            Find
          </Button>
        </form>
      </section>
      <section>
        <h2>A report, or a case</h2>
        <p>Open it: “Delete” stands among what can be done with it. The words that only it had go from titles and filters, too.</p>
      </section>
      {isOwner && (
        <section>
          <h2>The whole app</h2>
          <DeleteApp app={app} />
        </section>
      )}
    </>
  );
  return (
    <SidePage sentence={`${wordScrub(scrub)} ${wordKept(retention)}`} problem={null} side={side} sideLabel="Delete">
      <div className={styles.page}>
        <section aria-labelledby="kept">
          <h2 id="kept">How long things are kept</h2>
          <RetentionTable appSlug={app.slug} view={retention} isOwner={isOwner} />
        </section>
        <section aria-labelledby="scrubbed">
          <h2 id="scrubbed">What is taken out before anything is stored</h2>
          <ScrubRulesForm appSlug={app.slug} rules={scrub} mayAct={account.role !== 'viewer'} />
        </section>
      </div>
    </SidePage>
  );
}

function wordKept({ retention: { reports } }: RetentionView): string {
  const limits = [
    reports.days !== null && `for ${reports.days} days`,
    reports.megabytes !== null && `up to ${reports.megabytes} MB`,
  ].filter((one) => one !== false);
  return limits.length === 0
    ? 'What reports hold is kept for as long as the app is here.'
    : `What reports hold is kept ${limits.join(' and ')}.`;
}
