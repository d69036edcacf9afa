interface Kept<Answer> {
  readonly revision: number;
  readonly at: number;
  readonly costMs: number;
  readonly answer: Answer;
}

/** An answer to an index that has not changed is kept for so long; what it says of "today" moves on meanwhile. */
const unchangedMs = 60_000;
/** While an index changes, an answer is made anew so seldom that this takes one part in so many of the time. */
const partOfTime = 20;
const mostKept = 24;

/**
 * The last answers to a question that is the same for many askers and takes a look at everything. Where looking is quick it is
 * always that of now; of a large index that changes all the time it may be that of some seconds before. For persons that are
 * compared with, not for counts that must agree with each other.
 */
export class AnswerCache<Index extends { readonly revision: number }, Answer> {
  private readonly kept = new WeakMap<Index, Map<string, Kept<Answer>>>();

  /** The answer of this name, made now or shortly before. */
  of(index: Index, name: string, make: () => Answer): Answer {
    const ofIndex = this.kept.get(index) ?? new Map<string, Kept<Answer>>();
    this.kept.set(index, ofIndex);
    const known = ofIndex.get(name);
    const began = Date.now();
    if (known) {
      const freshMs = known.revision === index.revision ? unchangedMs : partOfTime * known.costMs;
      if (Math.abs(began - known.at) < freshMs) return known.answer;
    }
    const { revision } = index;
    const answer = make();
    const at = Date.now();
    ofIndex.delete(name);
    ofIndex.set(name, { revision, at, costMs: at - began, answer });
    const [oldest] = ofIndex.keys();
    if (ofIndex.size > mostKept) ofIndex.delete(oldest as string);
    return answer;
  }
}
