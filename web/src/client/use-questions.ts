import { useEffect, useState } from 'react';
import { Questions } from './questions';

/** The questions of a part of a screen, given up when it goes. */
export function useQuestions(): Questions {
  const [questions] = useState(() => new Questions());
  useEffect(() => () => questions.leaveAll(), [questions]);
  return questions;
}
