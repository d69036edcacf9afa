import { wordRange } from '@rough-ember/core/stability/comparison-words';
import type { AppRequests, RequestItem } from '@rough-ember/server/stability/app-activity';
import { Cut } from '../shell/Cut';
import { wordNumber } from '../words/numbers';
import { failuresOf, wordFailures, wordMs } from './activity-words';
import { FigureTable } from './FigureTable';

/** The requests of the app, those first that fail most often. */
export function RequestTable({
  answer,
  chosen,
  onChoose,
}: {
  answer: AppRequests;
  chosen: string | null;
  onChoose: (request: string) => void;
}) {
  return (
    <FigureTable<RequestItem>
      label="request"
      nameOf={(one) => one.request}
      showName={(one) => (
        <code>
          <Cut text={one.request} width={340} />
        </code>
      )}
      lines={answer.requests}
      first="failed"
      chosen={chosen}
      onChoose={onChoose}
      columns={[
        { name: 'requests', weigh: (one) => one.count, show: (one) => wordNumber(one.count) },
        {
          name: 'failed',
          weigh: (one) => failuresOf(one).low,
          show: (one) => (
            <>
              <b>{wordFailures(failuresOf(one).value)}</b> <small>{wordRange(failuresOf(one), wordFailures)}</small>
            </>
          ),
        },
        { name: 'median', weigh: (one) => one.medianMs ?? -1, show: (one) => wordMs(one.medianMs) },
        { name: '95 % within', weigh: (one) => one.p95Ms ?? -1, show: (one) => wordMs(one.p95Ms) },
        { name: 'people', weigh: (one) => one.persons, show: (one) => wordNumber(one.persons) },
        { name: 'cases after', weigh: (one) => one.cases.length, show: (one) => (one.cases.length === 0 ? '' : one.cases.length) },
      ]}
    />
  );
}
