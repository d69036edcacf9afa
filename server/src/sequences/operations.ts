import { operation } from '../operation/operation.ts';
import { scoped } from '../operation/scope-parameters.ts';
import { stabilityParametersSchema } from '../stability/crash-free.ts';
import { loadWays, waysSchema } from './load-ways.ts';

/** What sessions do, in which order, and where that ends. */
export const sequenceOperations = [
  operation('GET /apps/{app}/ways', {
    does: 'Through which screens sessions come to a bad end against those that do not, and how far they follow a sequence of steps.',
    right: 'read',
    parameters: scoped({ ...waysSchema.shape, count: stabilityParametersSchema.shape.count }),
    run: ({ services, app, parameters, now }) => loadWays(services, { app, ...parameters, now }),
  }),
] as const;
