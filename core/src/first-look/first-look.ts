import { z } from 'zod';

/** A question about an app that its screens answer, to find one's way by. */
export const firstQuestionSchema = z.object({
  question: z.string().max(300),
  /** Where to look: what the place is called, and its address behind that of the app. */
  place: z.string().max(60),
  path: z.string().max(300),
  choices: z.array(z.string().max(120)).min(2).max(5),
  answer: z.int().min(0),
  /** What there is to see, told with the right answer. */
  because: z.string().max(400),
});
export const firstLookSchema = z.array(firstQuestionSchema).max(8);
export type FirstQuestion = z.infer<typeof firstQuestionSchema>;
