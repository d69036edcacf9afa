/** Guesses it takes, in powers of ten: what falls below could be tried out by whoever has the hash, or knows the person. */
const fewestGuessesLog10 = 8;
/** Looking at more of a long password would take long and change nothing. */
const lookedAtCharacters = 72;

const reasons: Readonly<Record<string, string>> = {
  straightRow: 'it follows a row of keys',
  keyPattern: 'it follows a pattern on the keyboard',
  simpleRepeat: 'it repeats one letter or digit',
  extendedRepeat: 'it repeats the same letters over and over',
  sequences: 'it counts up or down',
  recentYears: 'it is little more than a year',
  dates: 'it is little more than a date',
  wordByItself: 'it is a single word',
  namesByThemselves: 'it is a name',
  commonNames: 'it is a common name',
  userInputs: 'it is made of your own name, address or this product’s name',
};

/** Makes the estimator once; its lists of words are large and seldom needed. */
let estimator: Promise<{
  check(password: string, words: string[]): { guessesLog10: number; feedback: { warning: string | null } };
}> | null = null;

async function makeEstimator() {
  const [{ ZxcvbnFactory }, common, english] = await Promise.all([
    import('@zxcvbn-ts/core'),
    import('@zxcvbn-ts/language-common'),
    import('@zxcvbn-ts/language-en'),
  ]);
  return new ZxcvbnFactory({
    dictionary: { ...common.dictionary, ...english.dictionary },
    graphs: common.adjacencyGraphs,
    maxLength: lookedAtCharacters,
  });
}

/**
 * Why a password would be guessed, or null. `words` are those that whoever knows the person would try. The estimate takes up to
 * 0.2 s, so a worker thread makes it.
 */
export async function passwordProblem(password: string, words: readonly string[]): Promise<string | null> {
  estimator ??= makeEstimator();
  const known = [...words, 'rough ember']
    .flatMap((word) => {
      const parts = word.split(/[^\p{L}\p{N}]+/u);
      return [word, parts.join(''), ...parts];
    })
    .filter((word) => word.length > 2);
  const { guessesLog10, feedback } = (await estimator).check(password, known);
  if (guessesLog10 >= fewestGuessesLog10) return null;
  return reasons[feedback.warning ?? ''] ?? 'it is among the passwords that are tried first, or much like one';
}
