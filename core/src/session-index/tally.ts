import { countNames, type SessionCounts } from './person-day.ts';

/** What is counted of persons: each counts once, however many sessions they had. */
export interface PersonCounts {
  readonly persons: number;
  readonly personsCrashed: number;
  readonly personsHung: number;
  readonly personsKilled: number;
  /** Never seen before the window. */
  readonly newPersons: number;
}

/** What of sessions has a rate: those that ended badly, as is asked, and each way of its own. */
export const outcomeNames = ['bad', 'crashed', 'hung', 'killed', 'crashedAtStart', 'withErrors'] as const;

/** The design effect of each rate: how many times as large its variance is as if no person had two sessions. */
export type Effects = Readonly<Record<(typeof outcomeNames)[number], number>>;

export type Sums = SessionCounts & PersonCounts;
export type Counts = Sums & { readonly effects: Effects };

const personNames = ['persons', 'personsCrashed', 'personsHung', 'personsKilled', 'newPersons'] as const;
export const allCountNames = [...countNames, ...personNames] as const;

/** What is counted of a cell lies together, so that a row touches one place of memory: sessions, persons, new persons, last person + 1. */
export const cellWidth = 4;
/** What went wrong in a cell likewise: five sums, and for three of them the persons and the last person + 1. */
const troubleWidth = 11;

/** What went wrong in the sessions of a row. */
export type Trouble = Omit<SessionCounts, 'sessions'>;

/**
 * Counts of many cells at once. Rows must come person by person: somebody is new to a cell when they were not the last who was
 * counted there. `counts` is open to the loop that fills it, which runs once for each row of an app.
 */
export class Tally {
  readonly counts: Int32Array;
  private readonly trouble: Int32Array;
  private times = 1;

  constructor(readonly cells: number) {
    this.counts = new Int32Array(cellWidth * cells);
    this.trouble = new Int32Array(troubleWidth * cells);
  }

  /** Lets the sessions and persons that were counted stand for so many times as many. */
  scale(times: number): void {
    this.times = times;
  }

  /** Adds what went wrong in a row; `person` is -1 where nobody is known. */
  addTrouble(cell: number, person: number, { crashed, hung, killed, crashedAtStart, withErrors }: Trouble): void {
    const { trouble } = this;
    const at = troubleWidth * cell;
    trouble[at + 4] = (trouble[at + 4] as number) + withErrors;
    if (crashed > 0) {
      trouble[at] = (trouble[at] as number) + crashed;
      trouble[at + 3] = (trouble[at + 3] as number) + crashedAtStart;
      this.meet(at + 5, person);
    }
    if (hung > 0) {
      trouble[at + 1] = (trouble[at + 1] as number) + hung;
      this.meet(at + 7, person);
    }
    if (killed > 0) {
      trouble[at + 2] = (trouble[at + 2] as number) + killed;
      this.meet(at + 9, person);
    }
  }

  private meet(at: number, person: number): void {
    const { trouble } = this;
    if (person < 0 || trouble[at + 1] === person + 1) return;
    trouble[at + 1] = person + 1;
    trouble[at] = (trouble[at] as number) + 1;
  }

  of(cell: number): Sums {
    const { counts, trouble, times } = this;
    const at = cellWidth * cell;
    const wrong = troubleWidth * cell;
    return {
      sessions: times * (counts[at] as number),
      persons: times * (counts[at + 1] as number),
      newPersons: times * (counts[at + 2] as number),
      crashed: trouble[wrong] as number,
      hung: trouble[wrong + 1] as number,
      killed: trouble[wrong + 2] as number,
      crashedAtStart: trouble[wrong + 3] as number,
      withErrors: trouble[wrong + 4] as number,
      personsCrashed: trouble[wrong + 5] as number,
      personsHung: trouble[wrong + 7] as number,
      personsKilled: trouble[wrong + 9] as number,
    };
  }
}

/** The same effect for every rate. */
export const everyEffect = (effect: number): Effects => Object.fromEntries(outcomeNames.map((name) => [name, effect])) as Effects;
export const noCounts: Counts = { ...new Tally(1).of(0), effects: everyEffect(1) };
