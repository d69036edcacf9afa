import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import type { Asked, AskedSplit, Counted, Figure } from '@rough-ember/core/ask/asked';
import { mostValues } from '@rough-ember/core/ask/asked';
import { countedAgainst, figuresOf } from '@rough-ember/core/ask/figures';
import {
  asksSessions,
  type CountName,
  type CountOf,
  counts,
  countsOf,
  isStatistic,
  type StatisticMeasure,
} from '@rough-ember/core/ask/measures';
import type { Histogram } from '@rough-ember/core/ask/number-cells';
import { parseQuestion, printField, printQuestion, type Question, sessionsTell } from '@rough-ember/core/ask/question';
import type { SheetContent } from '@rough-ember/core/ask/sheet';
import { type Release, type Steps, stepsOf } from '@rough-ember/core/ask/steps';
import type { Split } from '@rough-ember/core/cases/desk-settings';
import { dayMs } from '@rough-ember/core/durations';
import { meaningOf, wordField } from '@rough-ember/core/fields/fields';
import { printFilter } from '@rough-ember/core/scope/filter/print-filter';
import { parseScope, printScope, type Scope } from '@rough-ember/core/scope/scope';
import { notToldValue, otherValues } from '@rough-ember/core/session-index/axis';
import { sampleError } from '@rough-ember/core/session-index/count-sessions';
import { printDay } from '@rough-ember/core/session-index/person-day';
import type { DaySpan } from '@rough-ember/core/session-index/session-rows';
import { reportConditions } from '@rough-ember/core/session-index/session-test';
import { spanBefore, spanOf } from '@rough-ember/core/session-index/window';
import { cameOutOn } from '@rough-ember/core/stability/version-comparison';
import type { App } from '@rough-ember/store/apps';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import { ApiError } from '../errors.ts';
import type { DeskServices } from '../services.ts';
import type { Exactness } from '../session-index/session-worker.ts';
import { loadVersionHistory } from '../stability/compare-version.ts';

interface Asking {
  readonly app: App;
  readonly scope: Scope;
  readonly question: Question;
  readonly exact: Exactness;
  readonly now: Date;
}

type Found = Asked<Figure> & { readonly histogram?: Histogram | null; readonly error: number };

/** Answers a question about a scope from the indexes that stand. */
export async function answerQuestion(services: DeskServices, asking: Asking): Promise<Answer> {
  const { app, scope, question, now } = asking;
  const whole = spanOf(scope, now.getTime());
  const releases = question.every === 'day since release' ? await loadReleases(services, app, now) : [];
  const steps = question.every === null ? null : stepsOf(question.every, whole, now.getTime(), releases);
  const span = steps?.span ?? whole;
  const earlier = question.chart === 'before and after' ? spanBefore(scope, now.getTime()) : null;
  const [found, filterable] = await Promise.all([
    new Counting(services, asking, span, steps).count(),
    listFilterable(services.database, app.id),
  ]);
  const before = earlier && (await new Counting(services, asking, earlier, null, found.splits).count());
  const groups = sorted(question, found.splits, withBefore(found, before));
  const told = steps && toldSteps(steps, groups, scope.days === null);
  return {
    question: printQuestion(question),
    scope,
    address: printScope(scope),
    splits: question.splits.map((split, at) => ({
      ...split,
      ...(found.splits[at] as AskedSplit),
      called: wordField(split.field, split.key === '' ? null : split.key),
    })),
    steps: told && { every: told.every, starts: told.starts },
    groups: told
      ? groups.map((group) => ({ ...group, course: group.course?.slice(told.skipped, told.skipped + told.starts.length) ?? null }))
      : groups,
    total: found.total,
    before: before?.total ?? null,
    histogram: found.histogram ?? null,
    from: span.first === 0 ? null : printDay(span.first),
    to: printDay(Math.min(span.last, Math.floor(now.getTime() / dayMs))),
    error: found.error,
    unasked: asksSessions(question.measure) ? reportConditions(scope.filter).map(printFilter) : [],
    undivided: undividedBy(question).map(printField),
    notFilterable: attributesOf(question).filter((name) => !filterable.includes(name)),
    now: now.toISOString(),
  };
}

/** Answers the chart of a sheet at a place, of its own scope or that of the sheet. */
export async function answerChart(
  services: DeskServices,
  app: App,
  sheet: SheetContent,
  place: number,
  now: Date,
): Promise<{ readonly answer: Answer; readonly question: Question }> {
  const chart = sheet.charts[place];
  if (!chart) throw new ApiError('not-found', 'The sheet has no chart at this place.');
  const question = parseQuestion(chart.question);
  const scope = parseScope(new URLSearchParams(chart.scope ?? sheet.scope));
  if (!question.ok || !scope.ok) throw new ApiError('bad-request', `${chart.title}: its question or scope cannot be read any more.`);
  const answer = await answerQuestion(services, { app, scope: scope.value, question: question.value, exact: 'at-once', now });
  return { answer, question: question.value };
}

async function loadReleases(services: DeskServices, app: App, now: Date): Promise<Release[]> {
  const { known, first } = await loadVersionHistory(services, app, now);
  return known.flatMap((one) => {
    const day = cameOutOn(one, first);
    return day === null ? [] : [{ version: one.version, day }];
  });
}

const attributesOf = ({ measure, splits }: Question): string[] => [
  ...splits.filter(({ field }) => field === 'attributes').map(({ key }) => key),
  ...(measure.kind === 'attribute' ? [measure.attribute] : []),
];

/** Fields that only reports tell, in a rate of reports against sessions. */
function undividedBy({ measure, splits }: Question): Split[] {
  const per = isStatistic(measure) ? null : countsOf(measure).per;
  return per !== null && counts[per].from !== 'reports' ? splits.filter((split) => !sessionsTell(split)) : [];
}

/** Counts one question over one span. */
class Counting {
  private readonly sampled = { error: 0 };

  constructor(
    private readonly services: DeskServices,
    private readonly asking: Asking,
    private readonly span: DaySpan,
    private readonly steps: Steps | null,
    /** The values to name, where they were found before. */
    private readonly named: readonly AskedSplit[] | null = null,
  ) {}

  async count(): Promise<Found> {
    const { measure, splits } = this.asking.question;
    if (isStatistic(measure)) return { ...(await this.statistics(measure)), error: this.sampled.error };
    const found = await this.counted(countsOf(measure), splits);
    return { ...figuresOf(measure, found), error: this.sampled.error };
  }

  private async counted({ count, per }: { count: CountName; per: CountName | null }, splits: readonly Split[]): Promise<Asked<Counted>> {
    if (per === null) return this.of(count, splits);
    const [from, perFrom] = [counts[count].from, counts[per].from];
    if (from === perFrom && from === 'sessions')
      return this.ofSessions(splits, { count: count as CountOf<'sessions'>, per: per as CountOf<'sessions'> });
    if (from === perFrom && from === 'activities')
      return this.ofActivities(splits, { count: count as CountOf<'activities'>, per: per as CountOf<'activities'> });
    if (perFrom === 'reports') {
      const own = await this.of(count, splits);
      const against = await this.of(
        per,
        splits,
        own.splits.map(({ values }) => values),
      );
      return countedAgainst(
        own,
        against,
        splits.map((_, at) => at),
      );
    }
    const told = splits.filter(sessionsTell);
    const placeOf = splits.map((split) => (told.includes(split) ? told.indexOf(split) : null));
    const against = await this.of(per, told);
    const own = await this.of(
      count,
      splits,
      placeOf.map((at) => (at === null ? null : (against.splits[at]?.values ?? null))),
    );
    return countedAgainst(own, against, placeOf);
  }

  private of(name: CountName, splits: readonly Split[], values?: readonly (readonly string[] | null)[]): Promise<Asked<Counted>> {
    switch (counts[name].from) {
      case 'reports':
        return this.services.reports.ask(
          'askReports',
          this.asking.app.id,
          this.asking.scope,
          this.ofReports(splits, values),
          name as CountOf<'reports'>,
        );
      case 'sessions':
        return this.ofSessions(splits, { count: name as CountOf<'sessions'>, per: null });
      case 'activities':
        return this.ofActivities(splits, { count: name as CountOf<'activities'>, per: null });
    }
  }

  private ofReports(
    splits: readonly Split[],
    values: readonly (readonly string[] | null)[] | undefined = this.named?.map((one) => one.values),
  ) {
    return { splits, span: this.span, isOpen: this.isOpen, steps: this.steps, most: this.most, values };
  }

  private async ofSessions(splits: readonly Split[], what: { count: CountOf<'sessions'>; per: CountOf<'sessions'> | null }) {
    return this.noteSampling(await this.services.sessions.ask('askSessions', ...this.sessionsQuestion(splits), what));
  }

  private async ofActivities(splits: readonly Split[], what: { count: CountOf<'activities'>; per: CountOf<'activities'> | null }) {
    return this.noteSampling(await this.services.sessions.ask('askActivities', ...this.sessionsQuestion(splits), what));
  }

  private async statistics(measure: StatisticMeasure) {
    const { app, scope, question } = this.asking;
    if (measure.kind === 'request time')
      return this.noteSampling(await this.services.sessions.ask('askRequestTime', ...this.sessionsQuestion(question.splits), measure));
    return measure.of === 'reports'
      ? this.services.reports.ask('askNumbersOfReports', app.id, scope, this.ofReports(question.splits), measure)
      : this.noteSampling(await this.services.sessions.ask('askNumbersOfSessions', ...this.sessionsQuestion(question.splits), measure));
  }

  private sessionsQuestion(splits: readonly Split[]) {
    const { app, scope, exact } = this.asking;
    return [app.id, scope, { splits, span: this.span, steps: this.steps, most: this.most, exactness: exact }] as const;
  }

  private noteSampling<Answered extends { readonly sampledPersons: number | null }>(answered: Answered): Answered {
    if (answered.sampledPersons !== null) this.sampled.error = Math.max(this.sampled.error, sampleError(answered.sampledPersons));
    return answered;
  }

  private get isOpen(): boolean {
    return this.span.last >= Math.floor(this.asking.now.getTime() / dayMs);
  }

  private get most(): number {
    return mostValues(this.asking.question.splits.length, this.steps?.starts.length ?? 0);
  }
}

function withBefore({ groups, total }: Found, before: Found | null): AnswerGroup[] {
  if (before === null) return groups.map((group) => ({ ...group, before: null }));
  // Nothing counted is nought; a rate of nothing is unknown.
  const nothing: Figure = {
    value: total.per === null && total.value !== null ? 0 : null,
    low: null,
    high: null,
    count: 0,
    per: total.per === null ? null : 0,
  };
  const known = new Map(before.groups.map((group) => [group.places.join(), group.sum]));
  return groups.map((group) => ({ ...group, before: known.get(group.places.join()) ?? nothing }));
}

/** Versions in their order; else the largest first. What is not told or was gathered comes last. */
function sorted({ splits }: Question, found: readonly AskedSplit[], groups: readonly AnswerGroup[]): AnswerGroup[] {
  const [first] = splits;
  const inOrder = (one: AnswerGroup, other: AnswerGroup) => {
    for (let at = 0; at < splits.length; at++) {
      const difference = (one.places[at] as number) - (other.places[at] as number);
      if (difference !== 0) return difference;
    }
    return 0;
  };
  if (first && meaningOf(first.field).order === 'version') return [...groups].sort(inOrder);
  const isOwn = ({ places }: AnswerGroup) =>
    places.every((place, at) => ![notToldValue, otherValues].includes(found[at]?.values[place] as string));
  return [...groups].sort(
    (one, other) => Number(isOwn(other)) - Number(isOwn(one)) || (other.sum.value ?? -1) - (one.sum.value ?? -1) || inOrder(one, other),
  );
}

/** Steps without those before the first that anything was counted in, where nobody said since when. */
function toldSteps({ every, starts }: Steps, groups: readonly AnswerGroup[], mayBegin: boolean) {
  const wasCounted = (step: number) => groups.some(({ course }) => (course?.[step]?.per ?? course?.[step]?.count ?? 0) > 0);
  const first = mayBegin ? starts.findIndex((_, step) => wasCounted(step)) : 0;
  const skipped = Math.max(0, first);
  // No version is as old as the oldest release in every scope.
  const last = every === 'day since release' ? starts.findLastIndex((_, step) => wasCounted(step)) : starts.length - 1;
  return { every, starts: starts.slice(skipped, last + 1), skipped };
}
