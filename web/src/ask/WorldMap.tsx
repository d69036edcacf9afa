import type { Answer, AnswerGroup } from '@rough-ember/core/ask/answer';
import { wordInterval, wordValue } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import { useState } from 'react';
import shared from './Ask.module.css';
import type { Pressed } from './GroupMenu';
import { largestOf, levelOf } from './series';
import styles from './WorldMap.module.css';
import shapes from './world-shapes.json';

interface WorldMapProps {
  readonly answer: Answer;
  readonly measure: Question['measure'];
  readonly onPress: (pressed: Pressed) => void;
}

/** The countries of the world, shaded by how much of the largest value each has; areas are true to size. */
export function WorldMap({ answer, measure, onPress }: WorldMapProps) {
  const [over, setOver] = useState<{ name: string; group: AnswerGroup | undefined } | null>(null);
  const [split] = answer.splits;
  const groups = new Map(answer.groups.map((group) => [(split?.values[group.places[0] as number] ?? '').toUpperCase(), group]));
  const drawn = new Set(shapes.map(([letters]) => letters));
  const largest = largestOf(answer.groups.map(({ sum }) => sum));
  const small = [...groups.keys()].filter((letters) => /^[A-Z]{2}$/.test(letters) && !drawn.has(letters));
  return (
    <div className={styles.map}>
      <svg viewBox="0 0 720 350" width="100%" aria-hidden="true">
        {shapes.map(([letters = '', name = '', path]) => {
          const group = groups.get(letters);
          return (
            // The table beneath does the same with buttons.
            // biome-ignore lint/a11y/noStaticElementInteractions: hidden from whoever uses no pointer
            <path
              key={name}
              d={path}
              data-level={group ? levelOf(group.sum.value, largest) : undefined}
              onPointerEnter={() => setOver({ name, group })}
              onPointerLeave={() => setOver(null)}
              onClick={(event) => group && onPress({ group, x: event.clientX, y: event.clientY })}
            />
          );
        })}
      </svg>
      <p className={shared.soft}>
        {over
          ? `${over.name}: ${over.group ? wordValue(measure, over.group.sum.value) : 'nothing told'}${over.group ? intervalOf(measure, over.group) : ''}`
          : 'Shaded by how much of the largest value a country has; point at one.'}
        {small.length > 0 && ` Too small to be drawn: ${small.join(', ')}.`}
      </p>
    </div>
  );
}

function intervalOf(measure: Question['measure'], { sum }: AnswerGroup): string {
  const words = wordInterval(measure, sum);
  return words === null ? '' : ` (${words})`;
}
