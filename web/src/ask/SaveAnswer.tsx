import { Button, Menu } from '@mantine/core';
import type { Answer } from '@rough-ember/core/ask/answer';
import { chartOf } from '@rough-ember/core/ask/charts';
import { printQuestion, type Question } from '@rough-ember/core/ask/question';
import { printCsv } from '../words/csv';
import { linesOfAnswer } from './answer-lines';
import { paintDrawing, printDrawing, saveFile } from './save-drawing';

interface SaveAnswerProps {
  readonly appSlug: string;
  readonly answer: Answer;
  readonly question: Question;
}

const drawn = new Set(['lines', 'areas', 'bars', 'stacked bars', 'shares', 'ring', 'histogram', 'map']);

/** Takes an answer along: as a picture, as points or as lines. */
export function SaveAnswer({ appSlug, answer, question }: SaveAnswerProps) {
  const name = `${appSlug}-${printQuestion(question)
    .replaceAll(/[^\w.-]+/g, '-')
    .slice(0, 80)}`;
  const drawing = () => document.querySelector<SVGSVGElement>('[data-drawing] svg');
  const savePicture = async (as: 'svg' | 'png') => {
    const found = drawing();
    if (!found) return;
    const svg = printDrawing(found, `${printQuestion(question)} · ${answer.from ?? 'all time'} to ${answer.to}`);
    saveFile(`${name}.${as}`, as === 'svg' ? new Blob([svg], { type: 'image/svg+xml' }) : await paintDrawing(svg));
  };
  return (
    <Menu width={230} position="bottom-end">
      <Menu.Target>
        <Button size="compact-sm" variant="default">
          Save as ▾
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => saveFile(`${name}.csv`, new Blob([printCsv(linesOfAnswer(answer))], { type: 'text/csv' }))}>
          CSV, every value
        </Menu.Item>
        {drawn.has(chartOf(question)) && (
          <>
            <Menu.Item onClick={() => savePicture('svg')}>SVG, the drawing</Menu.Item>
            <Menu.Item onClick={() => savePicture('png')}>PNG, the drawing</Menu.Item>
          </>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
