import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { answersFile, printAnswers } from './describe-answers.ts';

it('what is documented of the answers is what the program answers; npm run describe-answers writes it anew', () => {
  expect(printAnswers()).toBe(readFileSync(answersFile, 'utf8'));
});
