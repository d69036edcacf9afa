import { Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import type { FirstQuestion } from '@rough-ember/core/first-look/first-look';
import { wordNumber } from '../words/numbers';
import styles from './FirstLook.module.css';

interface Answers {
  /** The choice for each question by its place. */
  readonly chosen: Readonly<Record<number, number>>;
  readonly closed: boolean;
}

/** Questions that the screens answer; what was chosen stays in the browser. */
export function FirstLook({ questions, here }: { questions: readonly FirstQuestion[]; here: string }) {
  const [answers, setAnswers] = useLocalStorage<Answers>({
    key: `first-look ${here}`,
    defaultValue: { chosen: {}, closed: false },
    // What the browser remembers is not known while the server makes the page.
    getInitialValueInEffect: true,
  });
  if (questions.length === 0 || answers.closed) return null;
  const isRight = (at: number) => answers.chosen[at] === questions[at]?.answer;
  const right = questions.filter((_, at) => isRight(at)).length;
  return (
    <section className={styles.look} aria-label="A first look">
      <h2>
        A first look · {wordNumber(right)} of {wordNumber(questions.length)}
      </h2>
      <ol>
        {questions.map(({ question, place, path, choices, because }, at) => (
          <li key={question} data-right={isRight(at)}>
            <p>
              {question} <a href={`${here}${path}`}>{place}</a>
            </p>
            {isRight(at) ? (
              <p className={styles.because}>
                <b>{choices[questions[at]?.answer ?? 0]}.</b> {because}
              </p>
            ) : (
              <div className={styles.choices}>
                {choices.map((choice, place) => (
                  <Button
                    key={choice}
                    size="compact-xs"
                    variant="default"
                    disabled={answers.chosen[at] === place}
                    onClick={() => setAnswers({ ...answers, chosen: { ...answers.chosen, [at]: place } })}
                  >
                    {choice}
                  </Button>
                ))}
                {answers.chosen[at] !== undefined && <span role="status">Not that; {place} shows it.</span>}
              </div>
            )}
          </li>
        ))}
      </ol>
      <Button size="compact-xs" variant="subtle" onClick={() => setAnswers({ ...answers, closed: true })}>
        {right === questions.length ? 'Done' : 'I know my way'}
      </Button>
    </section>
  );
}
