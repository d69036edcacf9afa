import { wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import type { AppScreens, ScreenItem } from '@rough-ember/server/stability/app-activity';
import { Strip } from '../desk/Strip';
import { Cut } from '../shell/Cut';
import { wordNumber } from '../words/numbers';
import { rateOfScreen } from './activity-words';
import { FigureTable } from './FigureTable';
import { endWordsPlural } from './Headline';
import { verdictMarks } from './StabilityMatrixTable';

/** The versions of a screen as the strip takes them: what was sent counts only where visits are not told. */
export const stripOf = (versions: AppScreens['versions'], { versions: use }: ScreenItem) =>
  versions.map((version, at) => ({ version, sessions: use[at]?.visits ?? 0, reports: use[at]?.reports ?? 0 }));

/** The screens of the app, the worst first: by the lower end of the rate, so that a handful of visits proves nothing. */
export function ScreenTable({
  answer,
  chosen,
  onChoose,
}: {
  answer: AppScreens;
  chosen: string | null;
  onChoose: (screen: string) => void;
}) {
  const rateName = 'for 1,000 visits';
  return (
    <FigureTable<ScreenItem>
      label="screen"
      nameOf={(one) => one.screen}
      showName={(one) => <Cut text={one.screen} width={240} />}
      lines={answer.screens}
      first={rateName}
      chosen={chosen}
      onChoose={onChoose}
      columns={[
        { name: 'visits', weigh: (one) => one.visits, show: (one) => (one.visits === 0 ? 'not told' : wordNumber(one.visits)) },
        { name: 'sessions', weigh: (one) => one.sessions, show: (one) => wordNumber(one.sessions) },
        { name: 'people', weigh: (one) => one.persons, show: (one) => wordNumber(one.persons) },
        { name: endWordsPlural(answer.badEnds), weigh: (one) => one.reports, show: (one) => wordNumber(one.reports) },
        {
          name: rateName,
          weigh: (one) => rateOfScreen(one)?.low ?? (one.reports > 0 ? 0.001 : -1),
          show: (one) => {
            const rate = rateOfScreen(one);
            return rate ? (
              <>
                <span aria-hidden="true">{verdictMarks[one.verdict]}</span> <b>{wordThousandth(rate.value)}</b>{' '}
                <small>{wordRange(rate)}</small>
              </>
            ) : (
              '–'
            );
          },
        },
        {
          name: 'by version',
          weigh: null,
          show: (one) => (
            <Strip of="visits" versions={stripOf(answer.versions, one)} reports={one.versions.map((version) => version.reports)} />
          ),
        },
      ]}
    />
  );
}
