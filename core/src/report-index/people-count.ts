import { none, type ReportIndex } from './report-index.ts';

/** Counts different people, group after group, without forgetting anybody in between. */
export class PeopleCounter {
  private readonly seenIn: Int32Array;
  private group = 0;

  constructor(private readonly index: ReportIndex) {
    this.seenIn = new Int32Array(index.peopleSize);
  }

  /** Begins a new group, in which nobody was counted. */
  begin(): void {
    this.group++;
  }

  /** 1 for whoever is met for the first time in this group, else 0; reports of nobody known count 0. */
  meet(row: number): 0 | 1 {
    const person = this.index.personOf.values[row] as number;
    if (person === none || this.seenIn[person] === this.group) return 0;
    this.seenIn[person] = this.group;
    return 1;
  }
}
