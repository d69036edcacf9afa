import { expect, it } from 'vitest';
import { passwordProblem } from './password-problem.ts';

const words = ['ines.wren@larkfield.example', 'Ines Wren'];

it.each([
  'password1234',
  'qwertyuiopas',
  'aaaaaaaaaaaa',
  '123456789012',
  'P@ssw0rd1234',
  'letmeinletmein',
  'larkfield2026',
  'ineswren12345',
  'roughember123',
  'x'.repeat(500),
  'iloveyou1234',
])('%s would be guessed', async (password) => {
  expect(await passwordProblem(password, words)).toMatch(/^it /);
});

it.each(['two owls and a wren', 'kW9!fz2LpQ0v', 'Zaunkönig über dem Fjell', 'a long enough secret', '正確な馬電池ホッチキス止め'])(
  '%s would not',
  async (password) => {
    expect(await passwordProblem(password, words)).toBeNull();
  },
);

it('says what is wrong where it can', async () => {
  expect(await passwordProblem('aaaaaaaaaaaa', words)).toBe('it repeats one letter or digit');
  expect(await passwordProblem('larkfield2026', words)).toBe('it is made of your own name, address or this product’s name');
});
